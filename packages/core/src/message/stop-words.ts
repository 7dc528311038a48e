/** Words that ask for no more texts and mean nothing else. Common practice, and the same in the house's languages. */
export const plainStopWords: readonly string[] = ['stop', 'stopall', 'unsubscribe', 'sair', 'parar'];

/** All that end texts to a number at once, as the first word of an answer, whatever stands behind it. */
export const stopWords: readonly string[] = [...plainStopWords, 'cancel', 'end', 'quit'];
