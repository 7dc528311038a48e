import type { Language } from '@convite/core';
import type { LinkWords } from '../services/audience/own-side';

/** What subscribers read on the pages that are theirs: in their own language. From memory. */
export interface OwnWords {
  readonly preferences: string;
  readonly saved: string;
  readonly save: string;
  readonly name: string;
  readonly email: string;
  readonly mobile: string;
  readonly language: string;
  readonly asWeWrite: string;
  readonly zone: string;
  readonly zoneHint: string;
  readonly badZone: string;
  readonly topics: string;
  readonly allTopics: string;
  readonly byEmail: string;
  readonly byText: (number: string) => string;
  readonly channels: string;
  readonly pause: string;
  readonly pauseHint: string;
  readonly howOften: string;
  readonly asItComes: string;
  readonly aWeek: (most: number) => string;
  readonly howOftenHint: string;
  readonly mindsNoting: string;
  readonly mindsNotingHint: string;
  readonly staleLink: string;
  readonly staleAbout: string;
  readonly endedAbout: string;
  readonly linkSent: string;
  readonly newLink: string;
  readonly newLinkAbout: string;
  readonly anotherAddress: string;
  readonly newAddress: string;
  readonly ask: string;
  readonly askedBoth: string;
  readonly askedAlready: string;
  readonly badAddress: string;
  readonly yourCalendar: string;
  readonly held: string;
  readonly forget: string;
  readonly forgetAbout: string;
  readonly forgetYes: string;
  readonly forgotten: string;
  readonly addressQuestion: (email: string) => string;
  readonly addressYes: string;
  readonly addressOneEnd: string;
  readonly addressDone: string;
  readonly join: string;
  readonly oneStepMore: (email: string) => string;
  readonly joinQuestion: string;
  readonly willBeStored: string;
  readonly staysAsKnown: string;
  readonly agreesTo: string;
  readonly elseNothing: string;
  readonly joinYes: string;
  readonly joined: string;
  readonly startForTexts: (number: string) => string;
  readonly closed: string;
  readonly needsConsent: string;
  readonly badMobile: string;
  readonly nameIsAddress: string;
  readonly leaveEmpty: string;
}

export const ownWords: Readonly<Record<Language, OwnWords>> = {
  en: {
    preferences: 'What you get from us',
    saved: 'Saved.',
    save: 'Save',
    name: 'Your name',
    email: 'Your email address',
    mobile: 'Your mobile number',
    language: 'Days and times in',
    asWeWrite: 'as we write',
    zone: 'Your time zone',
    zoneHint: 'A city, such as Lisbon',
    badZone: 'This is no time zone that we know. Type a large city near you.',
    topics: 'What you want to hear about',
    allTopics: 'Tick none to hear about everything.',
    byEmail: 'Write to me by email',
    byText: (number) => `Send texts to ${number}`,
    channels: 'How we may reach you',
    pause: 'Quiet until',
    pauseHint: 'Until that day you hear only of what you registered for. Empty for no pause.',
    howOften: 'How often',
    asItComes: 'as it comes',
    aWeek: (most) => (most === 1 ? 'at most once a week' : `at most ${most} times a week`),
    howOftenHint: 'Confirmations, changes and reminders of what you registered for come in any case.',
    mindsNoting: 'Do not note what I open',
    mindsNotingHint:
      'We note which of your own pages and which links in our mails you open, so that we know what is of use. Ticked, nothing is noted, and what was is gone.',
    staleLink: 'This link is no longer good',
    staleAbout: 'Type your address, and we send you a new one.',
    endedAbout: 'For safety, all personal links were replaced. Type your address, and we send you a new one.',
    linkSent: 'If we know this address, a new link is on its way to it.',
    newLink: 'Send me a new link',
    newLinkAbout: 'Press the button to see and change what you get from us.',
    anotherAddress: 'Another address',
    newAddress: 'Write to this address instead',
    ask: 'Ask both addresses',
    askedBoth: 'We have written to both addresses. Once both have said yes, the new one counts.',
    askedAlready: 'We have asked already. If nothing came, ask again in an hour.',
    badAddress: 'This is not an email address.',
    yourCalendar: 'Your calendar',
    held: 'Everything we hold about you, as a file',
    forget: 'Forget me',
    forgetAbout: 'Your name, address, number and all that we wrote to you are erased for good. Nothing comes back.',
    forgetYes: 'Yes, forget me',
    forgotten: 'You are forgotten. Only you yourself can come back.',
    addressQuestion: (email) => `Shall we write to ${email} from now on?`,
    addressYes: 'Yes, use it',
    addressOneEnd: 'Thank you. The other address has to say yes, too.',
    addressDone: 'Done: we write to the new address from now on.',
    join: 'Sign up',
    oneStepMore: (email) => `One step more: we have written to ${email}. Press the button in that mail.`,
    joinQuestion: 'Was it you who signed up?',
    willBeStored: 'This will be stored:',
    staysAsKnown: 'stays as we have it',
    agreesTo: 'What you agree to',
    elseNothing: 'Was it not you? Then do nothing.',
    joinYes: 'Yes, sign me up',
    joined: 'You are signed up.',
    startForTexts: (number) => `Texts begin once you write START to us from ${number}.`,
    closed: 'Nobody can sign up here any more.',
    needsConsent: 'Tick that we may write to you: without it there is nothing to sign up for.',
    badMobile: 'This is not a telephone number.',
    nameIsAddress: 'A name holds no web or mail address.',
    leaveEmpty: 'Leave this empty',
  },
  pt: {
    preferences: 'O que recebe de nós',
    saved: 'Guardado.',
    save: 'Guardar',
    name: 'O seu nome',
    email: 'O seu endereço de email',
    mobile: 'O seu telemóvel',
    language: 'Dias e horas em',
    asWeWrite: 'como nós escrevemos',
    zone: 'O seu fuso horário',
    zoneHint: 'Uma cidade, como Lisbon',
    badZone: 'Não conhecemos este fuso horário. Escreva uma cidade grande perto de si.',
    topics: 'Sobre o que quer receber notícias',
    allTopics: 'Não escolha nada para receber tudo.',
    byEmail: 'Escrevam-me por email',
    byText: (number) => `Enviem mensagens para ${number}`,
    channels: 'Como o podemos contactar',
    pause: 'Silêncio até',
    pauseHint: 'Até esse dia só recebe o que diz respeito ao que se inscreveu. Vazio para não haver pausa.',
    howOften: 'Com que frequência',
    asItComes: 'sempre que há novidades',
    aWeek: (most) => (most === 1 ? 'no máximo uma vez por semana' : `no máximo ${most} vezes por semana`),
    howOftenHint: 'As confirmações, as alterações e os lembretes daquilo em que se inscreveu chegam sempre.',
    mindsNoting: 'Não registem o que abro',
    mindsNotingHint:
      'Registamos quais das suas páginas pessoais e quais ligações dos nossos e-mails abre, para sabermos o que é útil. Se assinalar, nada é registado e o que foi registado desaparece.',
    staleLink: 'Esta ligação já não serve',
    staleAbout: 'Escreva o seu endereço e enviamos-lhe uma nova.',
    endedAbout:
      'Por segurança, todas as ligações pessoais foram substituídas. Escreva o seu endereço e enviamos-lhe uma nova.',
    linkSent: 'Se conhecemos este endereço, uma nova ligação está a caminho.',
    newLink: 'Enviar uma nova ligação',
    newLinkAbout: 'Prima o botão para ver e mudar o que recebe de nós.',
    anotherAddress: 'Outro endereço',
    newAddress: 'Escrevam antes para este endereço',
    ask: 'Perguntar a ambos os endereços',
    askedBoth: 'Escrevemos a ambos os endereços. Quando ambos disserem que sim, o novo passa a contar.',
    askedAlready: 'Já perguntámos. Se nada chegou, peça de novo daqui a uma hora.',
    badAddress: 'Isto não é um endereço de email.',
    yourCalendar: 'O seu calendário',
    held: 'Tudo o que guardamos sobre si, num ficheiro',
    forget: 'Esqueçam-me',
    forgetAbout: 'O seu nome, endereço, número e tudo o que lhe escrevemos são apagados de vez. Nada volta.',
    forgetYes: 'Sim, esqueçam-me',
    forgotten: 'Foi esquecido. Só o próprio pode voltar.',
    addressQuestion: (email) => `Devemos escrever para ${email} a partir de agora?`,
    addressYes: 'Sim, usem-no',
    addressOneEnd: 'Obrigado. O outro endereço também tem de dizer que sim.',
    addressDone: 'Feito: a partir de agora escrevemos para o novo endereço.',
    join: 'Inscrever-me',
    oneStepMore: (email) => `Falta um passo: escrevemos para ${email}. Carregue no botão dessa mensagem.`,
    joinQuestion: 'Foi você que se inscreveu?',
    willBeStored: 'Será guardado:',
    staysAsKnown: 'fica como o temos',
    agreesTo: 'O que aceita',
    elseNothing: 'Não foi você? Então não faça nada.',
    joinYes: 'Sim, inscrevam-me',
    joined: 'Está inscrito.',
    startForTexts: (number) => `As mensagens começam quando nos escrever START a partir de ${number}.`,
    closed: 'Já ninguém se pode inscrever aqui.',
    needsConsent: 'Assinale que lhe podemos escrever: sem isso não há a que se inscrever.',
    badMobile: 'Isto não é um número de telefone.',
    nameIsAddress: 'Um nome não contém endereços da web nem de email.',
    leaveEmpty: 'Deixe vazio',
  },
  es: {
    preferences: 'Lo que recibe de nosotros',
    saved: 'Guardado.',
    save: 'Guardar',
    name: 'Su nombre',
    email: 'Su dirección de correo',
    mobile: 'Su móvil',
    language: 'Días y horas en',
    asWeWrite: 'como escribimos nosotros',
    zone: 'Su zona horaria',
    zoneHint: 'Una ciudad, como Madrid',
    badZone: 'No conocemos esta zona horaria. Escriba una ciudad grande cercana.',
    topics: 'Sobre qué quiere recibir noticias',
    allTopics: 'No marque nada para recibirlo todo.',
    byEmail: 'Escríbanme por correo',
    byText: (number) => `Envíen mensajes a ${number}`,
    channels: 'Cómo podemos contactarle',
    pause: 'Silencio hasta',
    pauseHint: 'Hasta ese día solo recibe lo que atañe a aquello en lo que se inscribió. Vacío para no hacer pausa.',
    howOften: 'Con qué frecuencia',
    asItComes: 'cuando haya novedades',
    aWeek: (most) => (most === 1 ? 'como mucho una vez por semana' : `como mucho ${most} veces por semana`),
    howOftenHint:
      'Las confirmaciones, los cambios y los recordatorios de aquello en lo que se inscribió llegan siempre.',
    mindsNoting: 'No anoten lo que abro',
    mindsNotingHint:
      'Anotamos cuáles de sus páginas personales y qué enlaces de nuestros correos abre, para saber qué es útil. Si lo marca, no se anota nada y lo anotado desaparece.',
    staleLink: 'Este enlace ya no sirve',
    staleAbout: 'Escriba su dirección y le enviaremos uno nuevo.',
    endedAbout:
      'Por seguridad, todos los enlaces personales se han sustituido. Escriba su dirección y le enviaremos uno nuevo.',
    linkSent: 'Si conocemos esta dirección, un nuevo enlace va en camino.',
    newLink: 'Enviarme un nuevo enlace',
    newLinkAbout: 'Pulse el botón para ver y cambiar lo que recibe de nosotros.',
    anotherAddress: 'Otra dirección',
    newAddress: 'Escriban mejor a esta dirección',
    ask: 'Preguntar a ambas direcciones',
    askedBoth: 'Hemos escrito a ambas direcciones. Cuando ambas digan que sí, contará la nueva.',
    askedAlready: 'Ya hemos preguntado. Si no llegó nada, vuelva a pedirlo en una hora.',
    badAddress: 'Esto no es una dirección de correo.',
    yourCalendar: 'Su calendario',
    held: 'Todo lo que guardamos sobre usted, en un archivo',
    forget: 'Olvídenme',
    forgetAbout: 'Su nombre, dirección, número y todo lo que le escribimos se borran para siempre. Nada vuelve.',
    forgetYes: 'Sí, olvídenme',
    forgotten: 'Le hemos olvidado. Solo usted puede volver.',
    addressQuestion: (email) => `¿Debemos escribir a ${email} a partir de ahora?`,
    addressYes: 'Sí, úsenla',
    addressOneEnd: 'Gracias. La otra dirección también tiene que decir que sí.',
    addressDone: 'Hecho: a partir de ahora escribimos a la nueva dirección.',
    join: 'Inscribirme',
    oneStepMore: (email) => `Falta un paso: hemos escrito a ${email}. Pulse el botón de ese mensaje.`,
    joinQuestion: '¿Fue usted quien se inscribió?',
    willBeStored: 'Se guardará:',
    staysAsKnown: 'queda como lo tenemos',
    agreesTo: 'Lo que acepta',
    elseNothing: '¿No fue usted? Entonces no haga nada.',
    joinYes: 'Sí, inscríbanme',
    joined: 'Está inscrito.',
    startForTexts: (number) => `Los mensajes empiezan cuando nos escriba START desde ${number}.`,
    closed: 'Ya nadie puede inscribirse aquí.',
    needsConsent: 'Marque que podemos escribirle: sin ello no hay a qué inscribirse.',
    badMobile: 'Esto no es un número de teléfono.',
    nameIsAddress: 'Un nombre no contiene direcciones web ni de correo.',
    leaveEmpty: 'Déjelo vacío',
  },
  fr: {
    preferences: 'Ce que vous recevez de nous',
    saved: 'Enregistré.',
    save: 'Enregistrer',
    name: 'Votre nom',
    email: 'Votre adresse électronique',
    mobile: 'Votre mobile',
    language: 'Jours et heures en',
    asWeWrite: 'comme nous écrivons',
    zone: 'Votre fuseau horaire',
    zoneHint: 'Une ville, comme Paris',
    badZone: 'Nous ne connaissons pas ce fuseau. Indiquez une grande ville près de chez vous.',
    topics: 'Ce dont vous voulez des nouvelles',
    allTopics: 'Ne cochez rien pour tout recevoir.',
    byEmail: 'Écrivez-moi par courriel',
    byText: (number) => `Envoyez des SMS au ${number}`,
    channels: 'Comment vous joindre',
    pause: 'Silence jusqu’au',
    pauseHint: 'Jusqu’à ce jour vous ne recevez que ce à quoi vous êtes inscrit. Vide pour ne pas faire de pause.',
    howOften: 'À quelle fréquence',
    asItComes: 'au fil des nouvelles',
    aWeek: (most) => (most === 1 ? 'au plus une fois par semaine' : `au plus ${most} fois par semaine`),
    howOftenHint: 'Les confirmations, les changements et les rappels de ce à quoi vous êtes inscrit arrivent toujours.',
    mindsNoting: 'Ne notez pas ce que j’ouvre',
    mindsNotingHint:
      'Nous notons lesquelles de vos pages personnelles et quels liens de nos messages vous ouvrez, pour savoir ce qui est utile. Si vous cochez, rien n’est noté et ce qui l’était disparaît.',
    staleLink: 'Ce lien n’est plus valable',
    staleAbout: 'Indiquez votre adresse et nous vous en enverrons un nouveau.',
    endedAbout:
      'Par sécurité, tous les liens personnels ont été remplacés. Indiquez votre adresse et nous vous en enverrons un nouveau.',
    linkSent: 'Si nous connaissons cette adresse, un nouveau lien y est en route.',
    newLink: 'M’envoyer un nouveau lien',
    newLinkAbout: 'Appuyez sur le bouton pour voir et changer ce que vous recevez de nous.',
    anotherAddress: 'Une autre adresse',
    newAddress: 'Écrivez plutôt à cette adresse',
    ask: 'Demander aux deux adresses',
    askedBoth: 'Nous avons écrit aux deux adresses. Quand les deux auront dit oui, la nouvelle comptera.',
    askedAlready: 'Nous avons déjà demandé. Si rien n’est arrivé, redemandez dans une heure.',
    badAddress: 'Ce n’est pas une adresse électronique.',
    yourCalendar: 'Votre calendrier',
    held: 'Tout ce que nous gardons sur vous, dans un fichier',
    forget: 'Oubliez-moi',
    forgetAbout:
      'Votre nom, votre adresse, votre numéro et tout ce que nous vous avons écrit sont effacés pour de bon. Rien ne revient.',
    forgetYes: 'Oui, oubliez-moi',
    forgotten: 'Vous êtes oublié. Vous seul pouvez revenir.',
    addressQuestion: (email) => `Devons-nous désormais écrire à ${email} ?`,
    addressYes: 'Oui, utilisez-la',
    addressOneEnd: 'Merci. L’autre adresse doit dire oui, elle aussi.',
    addressDone: 'C’est fait : nous écrivons désormais à la nouvelle adresse.',
    join: 'M’inscrire',
    oneStepMore: (email) => `Encore un pas : nous avons écrit à ${email}. Appuyez sur le bouton de ce message.`,
    joinQuestion: 'Est-ce vous qui vous êtes inscrit ?',
    willBeStored: 'Ceci sera enregistré :',
    staysAsKnown: 'reste tel que nous l’avons',
    agreesTo: 'Ce que vous acceptez',
    elseNothing: 'Ce n’était pas vous ? Alors ne faites rien.',
    joinYes: 'Oui, inscrivez-moi',
    joined: 'Vous êtes inscrit.',
    startForTexts: (number) => `Les SMS commencent quand vous nous écrivez START depuis le ${number}.`,
    closed: 'Plus personne ne peut s’inscrire ici.',
    needsConsent: 'Cochez que nous pouvons vous écrire : sans cela il n’y a rien à quoi s’inscrire.',
    badMobile: 'Ce n’est pas un numéro de téléphone.',
    nameIsAddress: 'Un nom ne contient ni adresse web ni adresse électronique.',
    leaveEmpty: 'Laissez vide',
  },
  de: {
    preferences: 'Was Sie von uns bekommen',
    saved: 'Gespeichert.',
    save: 'Speichern',
    name: 'Ihr Name',
    email: 'Ihre E-Mail-Adresse',
    mobile: 'Ihre Handynummer',
    language: 'Tage und Uhrzeiten auf',
    asWeWrite: 'wie wir schreiben',
    zone: 'Ihre Zeitzone',
    zoneHint: 'Eine Stadt, etwa Berlin',
    badZone: 'Diese Zeitzone kennen wir nicht. Schreiben Sie eine große Stadt in der Nähe.',
    topics: 'Wovon Sie hören möchten',
    allTopics: 'Kreuzen Sie nichts an, um von allem zu hören.',
    byEmail: 'Schreiben Sie mir per E-Mail',
    byText: (number) => `Schicken Sie Nachrichten an ${number}`,
    channels: 'Wie wir Sie erreichen',
    pause: 'Ruhe bis',
    pauseHint: 'Bis zu diesem Tag hören Sie nur von dem, wofür Sie angemeldet sind. Leer für keine Pause.',
    howOften: 'Wie oft',
    asItComes: 'wie es kommt',
    aWeek: (most) => (most === 1 ? 'höchstens einmal in der Woche' : `höchstens ${most} Mal in der Woche`),
    howOftenHint: 'Bestätigungen, Änderungen und Erinnerungen an das, wofür Sie angemeldet sind, kommen immer.',
    mindsNoting: 'Nicht festhalten, was ich öffne',
    mindsNotingHint:
      'Wir halten fest, welche Ihrer eigenen Seiten und welche Links unserer Mails Sie öffnen, um zu wissen, was nützt. Angekreuzt wird nichts festgehalten, und was es war, ist gelöscht.',
    staleLink: 'Dieser Link gilt nicht mehr',
    staleAbout: 'Geben Sie Ihre Adresse ein, und wir schicken Ihnen einen neuen.',
    endedAbout:
      'Zur Sicherheit wurden alle persönlichen Links ersetzt. Geben Sie Ihre Adresse ein, und wir schicken Ihnen einen neuen.',
    linkSent: 'Wenn wir diese Adresse kennen, ist ein neuer Link unterwegs.',
    newLink: 'Einen neuen Link schicken',
    newLinkAbout: 'Drücken Sie die Schaltfläche, um zu sehen und zu ändern, was Sie von uns bekommen.',
    anotherAddress: 'Eine andere Adresse',
    newAddress: 'Schreiben Sie lieber an diese Adresse',
    ask: 'Beide Adressen fragen',
    askedBoth: 'Wir haben an beide Adressen geschrieben. Sagen beide ja, gilt die neue.',
    askedAlready: 'Wir haben schon gefragt. Kam nichts an, bitten Sie in einer Stunde noch einmal darum.',
    badAddress: 'Das ist keine E-Mail-Adresse.',
    yourCalendar: 'Ihr Kalender',
    held: 'Alles, was wir über Sie aufbewahren, als Datei',
    forget: 'Vergessen Sie mich',
    forgetAbout:
      'Ihr Name, Ihre Adresse, Ihre Nummer und alles, was wir Ihnen schrieben, wird für immer gelöscht. Nichts kommt zurück.',
    forgetYes: 'Ja, vergessen Sie mich',
    forgotten: 'Sie sind vergessen. Nur Sie selbst können zurückkommen.',
    addressQuestion: (email) => `Sollen wir von jetzt an an ${email} schreiben?`,
    addressYes: 'Ja, diese nehmen',
    addressOneEnd: 'Danke. Auch die andere Adresse muss ja sagen.',
    addressDone: 'Erledigt: Wir schreiben von jetzt an an die neue Adresse.',
    join: 'Anmelden',
    oneStepMore: (email) =>
      `Noch ein Schritt: Wir haben an ${email} geschrieben. Drücken Sie auf den Knopf in dieser Mail.`,
    joinQuestion: 'Haben Sie sich angemeldet?',
    willBeStored: 'Das wird gespeichert:',
    staysAsKnown: 'bleibt, wie wir es haben',
    agreesTo: 'Dem stimmen Sie zu',
    elseNothing: 'Waren Sie es nicht? Dann tun Sie nichts.',
    joinYes: 'Ja, melden Sie mich an',
    joined: 'Sie sind angemeldet.',
    startForTexts: (number) => `Nachrichten kommen, sobald Sie uns START von ${number} schreiben.`,
    closed: 'Hier kann sich niemand mehr anmelden.',
    needsConsent: 'Kreuzen Sie an, dass wir Ihnen schreiben dürfen: Sonst gibt es nichts, wofür Sie sich anmelden.',
    badMobile: 'Das ist keine Telefonnummer.',
    nameIsAddress: 'Ein Name enthält keine Web- oder Mailadresse.',
    leaveEmpty: 'Leer lassen',
  },
  it: {
    preferences: 'Che cosa riceve da noi',
    saved: 'Salvato.',
    save: 'Salva',
    name: 'Il suo nome',
    email: 'Il suo indirizzo email',
    mobile: 'Il suo cellulare',
    language: 'Giorni e ore in',
    asWeWrite: 'come scriviamo noi',
    zone: 'Il suo fuso orario',
    zoneHint: 'Una città, come Rome',
    badZone: 'Non conosciamo questo fuso orario. Scriva una grande città vicina.',
    topics: 'Di che cosa vuole notizie',
    allTopics: 'Non scelga nulla per ricevere tutto.',
    byEmail: 'Scrivetemi per email',
    byText: (number) => `Mandate messaggi a ${number}`,
    channels: 'Come possiamo raggiungerla',
    pause: 'Silenzio fino al',
    pauseHint: 'Fino a quel giorno riceve solo ciò a cui si è iscritto. Vuoto per nessuna pausa.',
    howOften: 'Con quale frequenza',
    asItComes: 'man mano',
    aWeek: (most) => (most === 1 ? 'al massimo una volta alla settimana' : `al massimo ${most} volte alla settimana`),
    howOftenHint: 'Le conferme, i cambiamenti e i promemoria di ciò a cui si è iscritto arrivano sempre.',
    mindsNoting: 'Non annotate ciò che apro',
    mindsNotingHint:
      'Annotiamo quali delle sue pagine personali e quali link delle nostre mail apre, per sapere che cosa è utile. Se spunta, nulla viene annotato e ciò che lo era sparisce.',
    staleLink: 'Questo link non vale più',
    staleAbout: 'Scriva il Suo indirizzo e gliene manderemo uno nuovo.',
    endedAbout:
      'Per sicurezza, tutti i collegamenti personali sono stati sostituiti. Scriva il Suo indirizzo e gliene manderemo uno nuovo.',
    linkSent: 'Se conosciamo questo indirizzo, un nuovo link è in arrivo.',
    newLink: 'Mandami un nuovo link',
    newLinkAbout: 'Prema il pulsante per vedere e cambiare ciò che riceve da noi.',
    anotherAddress: 'Un altro indirizzo',
    newAddress: 'Scrivete piuttosto a questo indirizzo',
    ask: 'Chiedere a entrambi gli indirizzi',
    askedBoth: 'Abbiamo scritto a entrambi gli indirizzi. Quando entrambi dicono di sì, vale il nuovo.',
    askedAlready: 'Abbiamo già chiesto. Se non è arrivato nulla, lo chieda di nuovo tra un’ora.',
    badAddress: 'Questo non è un indirizzo email.',
    yourCalendar: 'Il suo calendario',
    held: 'Tutto ciò che conserviamo di lei, in un file',
    forget: 'Dimenticatemi',
    forgetAbout:
      'Il suo nome, indirizzo, numero e tutto ciò che le abbiamo scritto vengono cancellati per sempre. Nulla ritorna.',
    forgetYes: 'Sì, dimenticatemi',
    forgotten: 'È stato dimenticato. Solo lei può tornare.',
    addressQuestion: (email) => `Dobbiamo scrivere a ${email} d’ora in poi?`,
    addressYes: 'Sì, usatelo',
    addressOneEnd: 'Grazie. Anche l’altro indirizzo deve dire di sì.',
    addressDone: 'Fatto: d’ora in poi scriviamo al nuovo indirizzo.',
    join: 'Iscrivermi',
    oneStepMore: (email) => `Ancora un passo: abbiamo scritto a ${email}. Prema il pulsante in quel messaggio.`,
    joinQuestion: 'È stato lei a iscriversi?',
    willBeStored: 'Verrà salvato:',
    staysAsKnown: 'resta come lo abbiamo',
    agreesTo: 'Ciò che accetta',
    elseNothing: 'Non è stato lei? Allora non faccia nulla.',
    joinYes: 'Sì, iscrivetemi',
    joined: 'È iscritto.',
    startForTexts: (number) => `I messaggi iniziano quando ci scrive START da ${number}.`,
    closed: 'Nessuno può più iscriversi qui.',
    needsConsent: 'Spunti che possiamo scriverle: senza, non c’è nulla a cui iscriversi.',
    badMobile: 'Questo non è un numero di telefono.',
    nameIsAddress: 'Un nome non contiene indirizzi web o email.',
    leaveEmpty: 'Lasciare vuoto',
  },
};

/** What a mail says that brings somebody a link of their own. */
export const newLinkWords: LinkWords = (language) => {
  const { preferences, newLinkAbout } = ownWords[language];
  return { subject: preferences, text: newLinkAbout, label: preferences };
};
