import { plainDocument, type Language, type WordingDocument } from '@convite/core';

/** One text in the languages of the house; English is its first. */
function said({ en, ...others }: Readonly<Record<Language, string>>): WordingDocument {
  const languages = Object.fromEntries(Object.entries(others).map(([key, text]) => [key, plainDocument('', text)]));
  return { ...plainDocument('', en), languages };
}

const about = '{{event.title}}, {{event.date}} {{event.time}}';
const until = '{{event.placeKeptUntil}}';

/** What goes back to somebody's phone for a text of theirs. Translations are from memory. */
export const textAnswers = {
  acceptedText: said({
    en: `You are coming: ${about}. If you cannot after all, answer NO. {{link.event}}`,
    pt: `Contamos consigo: ${about}. Se afinal não puder, responda NÃO. {{link.event}}`,
    es: `Contamos con usted: ${about}. Si al final no puede, responda NO. {{link.event}}`,
    fr: `Nous comptons sur vous : ${about}. Si vous ne pouvez plus venir, répondez NON. {{link.event}}`,
    de: `Wir rechnen mit Ihnen: ${about}. Wenn Sie doch nicht können, antworten Sie NEIN. {{link.event}}`,
    it: `La aspettiamo: ${about}. Se poi non può, risponda NO. {{link.event}}`,
  }),
  declinedText: said({
    en: `You are not coming: ${about}. If you can after all, answer YES.`,
    pt: `Não vem: ${about}. Se afinal puder, responda SIM.`,
    es: `No viene: ${about}. Si al final puede, responda SÍ.`,
    fr: `Vous ne venez pas : ${about}. Si vous pouvez quand même, répondez OUI.`,
    de: `Sie kommen nicht: ${about}. Wenn Sie doch können, antworten Sie JA.`,
    it: `Non viene: ${about}. Se poi può, risponda SÌ.`,
  }),
  tentativeText: said({
    en: `Perhaps you are coming: ${about}. Answer YES or NO when you know.`,
    pt: `Talvez venha: ${about}. Responda SIM ou NÃO quando souber.`,
    es: `Quizás venga: ${about}. Responda SÍ o NO cuando lo sepa.`,
    fr: `Vous venez peut-être : ${about}. Répondez OUI ou NON quand vous saurez.`,
    de: `Vielleicht kommen Sie: ${about}. Antworten Sie JA oder NEIN, sobald Sie es wissen.`,
    it: `Forse viene: ${about}. Risponda SÌ o NO quando lo sa.`,
  }),
  fullText: said({
    en: `We are sorry, there is no place left: ${about}. {{link.event}}`,
    pt: `Lamentamos, já não há lugares: ${about}. {{link.event}}`,
    es: `Lo sentimos, ya no hay plazas: ${about}. {{link.event}}`,
    fr: `Nous sommes désolés, il n’y a plus de place : ${about}. {{link.event}}`,
    de: `Es tut uns leid, es ist kein Platz mehr frei: ${about}. {{link.event}}`,
    it: `Ci dispiace, non ci sono più posti: ${about}. {{link.event}}`,
  }),
  waitlistedText: said({
    en: `It is full for now, and you are on the waitlist: ${about}. We write as soon as a place is free. Answer NO to leave it.`,
    pt: `Está cheio por agora; ficou em lista de espera: ${about}. Escrevemos assim que houver lugar. Para sair, responda NÃO.`,
    es: `Está completo por ahora; queda en lista de espera: ${about}. Le escribimos en cuanto haya plaza. Para salir, responda NO.`,
    fr: `C’est complet pour l’instant ; vous êtes sur liste d’attente : ${about}. Nous écrivons dès qu’une place est libre. Pour la quitter, répondez NON.`,
    de: `Zurzeit ist alles belegt; Sie stehen auf der Warteliste: ${about}. Wir schreiben, sobald ein Platz frei ist. Zum Verlassen antworten Sie NEIN.`,
    it: `Per ora è tutto esaurito; è in lista d’attesa: ${about}. Scriviamo appena c’è un posto. Per uscirne risponda NO.`,
  }),
  waitChangeText: said({
    en: `You are on the waitlist; the plan has changed: ${about}. Answer NO to leave it. {{link.event}}`,
    pt: `Está em lista de espera; o plano mudou: ${about}. Para sair, responda NÃO. {{link.event}}`,
    es: `Está en lista de espera; el plan ha cambiado: ${about}. Para salir, responda NO. {{link.event}}`,
    fr: `Vous êtes sur liste d’attente ; le programme a changé : ${about}. Pour la quitter, répondez NON. {{link.event}}`,
    de: `Sie stehen auf der Warteliste; der Plan hat sich geändert: ${about}. Zum Verlassen antworten Sie NEIN. {{link.event}}`,
    it: `È in lista d’attesa; il programma è cambiato: ${about}. Per uscirne risponda NO. {{link.event}}`,
  }),
  placeFreeText: said({
    en: `A place is free: ${about}. Answer YES by ${until}, and it is yours; NO, and the next is asked.`,
    pt: `Há um lugar: ${about}. Responda SIM até ${until} e é seu; com NÃO, passa ao seguinte.`,
    es: `Hay una plaza: ${about}. Responda SÍ antes de ${until} y es suya; con NO, pasa al siguiente.`,
    fr: `Une place est libre : ${about}. Répondez OUI avant ${until}, elle est à vous ; NON, et le suivant est prévenu.`,
    de: `Ein Platz ist frei: ${about}. Antworten Sie JA bis ${until}, und er gehört Ihnen; mit NEIN ist der Nächste dran.`,
    it: `C’è un posto: ${about}. Risponda SÌ entro ${until} ed è suo; con NO passa al prossimo.`,
  }),
  helpText: said({
    en: '{{organisation.name}}: you get texts from us about events. STOP ends them, START takes them up again. What else you write, a person reads and answers.',
    pt: '{{organisation.name}}: recebe mensagens nossas sobre eventos. PARAR termina, COMEÇAR retoma. O que mais escrever é lido e respondido por uma pessoa.',
    es: '{{organisation.name}}: recibe mensajes nuestros sobre eventos. BAJA los termina, ALTA los reanuda. Lo demás que escriba lo lee y contesta una persona.',
    fr: '{{organisation.name}} : vous recevez nos messages sur des événements. STOP y met fin, REPRENDRE les reprend. Le reste, une personne le lit et répond.',
    de: '{{organisation.name}}: Sie bekommen Nachrichten von uns zu Veranstaltungen. STOPP beendet sie, STARTEN nimmt sie wieder auf. Alles andere liest und beantwortet ein Mensch.',
    it: '{{organisation.name}}: riceve nostri messaggi su eventi. STOP li termina, RIPRENDI li riprende. Il resto lo legge e le risponde una persona.',
  }),
  stoppedText: said({
    en: '{{organisation.name}}: you get no more texts from us. START takes them up again.',
    pt: '{{organisation.name}}: não recebe mais mensagens nossas. COMEÇAR retoma.',
    es: '{{organisation.name}}: no recibirá más mensajes nuestros. ALTA los reanuda.',
    fr: '{{organisation.name}} : vous ne recevrez plus de messages de nous. REPRENDRE les reprend.',
    de: '{{organisation.name}}: Sie bekommen keine Nachrichten mehr von uns. STARTEN nimmt sie wieder auf.',
    it: '{{organisation.name}}: non riceverà più nostri messaggi. RIPRENDI li riprende.',
  }),
  startedText: said({
    en: '{{organisation.name}}: you get texts from us again. STOP ends them.',
    pt: '{{organisation.name}}: volta a receber mensagens nossas. PARAR termina.',
    es: '{{organisation.name}}: vuelve a recibir mensajes nuestros. BAJA los termina.',
    fr: '{{organisation.name}} : vous recevez de nouveau nos messages. STOP y met fin.',
    de: '{{organisation.name}}: Sie bekommen wieder Nachrichten von uns. STOPP beendet sie.',
    it: '{{organisation.name}}: riceve di nuovo i nostri messaggi. STOP li termina.',
  }),
} as const satisfies Record<string, WordingDocument>;
