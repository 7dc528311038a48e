import type { DemoSubscriber } from '../store/demo-bulk';
import type { Random } from './random';

export const demoTopics = ['stars', 'moon and planets', 'families', 'talks', 'camps', 'online'];

interface Place {
  readonly zone: string;
  readonly weight: number;
  readonly first: readonly string[];
  readonly last: readonly string[];
}

const iberian = {
  first: [
    'Inês',
    'João',
    'Beatriz',
    'Gonçalo',
    'Conceição',
    'Tomás',
    'Leonor',
    'Rui',
    'Matilde',
    'Álvaro',
    'Graça',
    'Nuno',
    'Íris',
    'Simão',
  ],
  last: [
    'Lopes',
    'Araújo',
    'Simões',
    'Magalhães',
    'Brandão',
    'Vilhena',
    'Falcão',
    'Quintão',
    'Sá Nogueira',
    'Pimentel',
    'Cunha',
  ],
};
const english = {
  first: [
    'Harriet',
    'Owen',
    'Maeve',
    'Silas',
    'Priya',
    'Imogen',
    'Declan',
    'Tabitha',
    'Rowan',
    'Cora',
    'Jasper',
    'Winifred',
  ],
  last: ['Aldous', 'Penhallow', 'Thistlewood', 'O’Rourke', 'Marchbanks', 'Fairweather', 'Holloway', 'Quill', 'Ashdown'],
};
const places: readonly Place[] = [
  { zone: 'Europe/Lisbon', weight: 46, ...iberian },
  { zone: 'Atlantic/Azores', weight: 6, ...iberian },
  {
    zone: 'Europe/Madrid',
    weight: 8,
    first: ['Lucía', 'Íñigo', 'Begoña', 'Nicolás', 'Ximena'],
    last: ['Muñoz', 'Echevarría', 'Peña', 'Ibáñez'],
  },
  { zone: 'Europe/London', weight: 8, ...english },
  {
    zone: 'Europe/Paris',
    weight: 5,
    first: ['Zoé', 'Benoît', 'Hélène', 'Gaël'],
    last: ['Lefèvre', 'D’Aubigny', 'Guérin', 'Noël'],
  },
  {
    zone: 'Europe/Berlin',
    weight: 5,
    first: ['Jürgen', 'Käthe', 'Sören', 'Änne'],
    last: ['Müller-Lüdenscheid', 'Groß', 'Weiß', 'Köhler'],
  },
  {
    zone: 'Europe/Warsaw',
    weight: 3,
    first: ['Łukasz', 'Żaneta', 'Bożena', 'Świętosław'],
    last: ['Wójcik', 'Kołodziej', 'Śliwa'],
  },
  { zone: 'America/New_York', weight: 5, ...english },
  { zone: 'America/Los_Angeles', weight: 3, ...english },
  {
    zone: 'America/Sao_Paulo',
    weight: 5,
    first: ['Thaís', 'Caetano', 'Iracema', 'Raí'],
    last: ['Guimarães', 'Antunes', 'Prado'],
  },
  { zone: 'Asia/Kolkata', weight: 2, first: ['आरव', 'Meera', 'Rohan', 'Ananya'], last: ['शर्मा', 'Iyer', 'Banerjee'] },
  { zone: 'Asia/Tokyo', weight: 2, first: ['陽菜', '蓮', 'Haruka', 'Sora'], last: ['佐藤', 'Tanabe', '小林'] },
  { zone: 'Asia/Jerusalem', weight: 1, first: ['נועם', 'תמר', 'Yael'], last: ['לוי', 'Barak', 'שגיא'] },
  { zone: 'Africa/Cairo', weight: 1, first: ['ليلى', 'عمر', 'Nadia'], last: ['حداد', 'Mansour', 'سليم'] },
  { zone: 'Australia/Sydney', weight: 2, ...english },
];

const domains = ['people.example', 'mail.example', 'correio.example', 'post.example', 'inbox.example'];
const dayMs = 86_400_000;

/** The lists' numbers, in the order they are made. */
export const demoLists = [
  'Night sky news',
  'Members',
  'Families and schools',
  'Live stream viewers',
  'Crew and friends',
] as const;

/** Some 1,500 invented people in 15 zones: accents, other scripts, right-to-left names, some opted out, some bounced. */
export function inventPeople(random: Random, count: number, nowMs: number): DemoSubscriber[] {
  const spread = places.flatMap((place) => Array.from({ length: place.weight }, () => place));
  return Array.from({ length: count }, (_, index) => {
    const place = random.pick(spread);
    const [first, last] = [random.pick(place.first), random.pick(place.last)];
    const mobile = random.chance(0.4) ? fictionalMobile(index, place.zone) : '';
    const emoji = index % 211 === 7 ? ' 🌒' : '';
    return {
      id: index + 1,
      email: `${slug(first)}.${slug(last)}${index + 1}@${random.pick(domains)}`,
      name: `${first} ${last}${emoji}`,
      zone: place.zone,
      mobile,
      textConsent: mobile !== '' && random.chance(0.75),
      optedOutAt: random.chance(0.025) ? new Date(nowMs - random.below(200) * dayMs) : null,
      bouncedAt: random.chance(0.012) ? new Date(nowMs - random.below(20) * dayMs) : null,
      createdAt: new Date(nowMs - (30 + random.below(700)) * dayMs),
      topics: random.chance(0.55) ? [...new Set([random.pick(demoTopics), random.pick(demoTopics)])] : [],
      lists: listsOf(random, index),
    };
  });
}

function listsOf(random: Random, index: number): number[] {
  const shares = [0.86, 0.16, 0.14, 0.26];
  const lists = shares.flatMap((share, list) => (random.chance(share) ? [list + 1] : []));
  return index % 37 === 0 ? [...lists, 5] : lists;
}

/** Numbers set aside for fiction: the British regulator's 07700 900xxx, and North America's 555-01xx. */
function fictionalMobile(index: number, zone: string): string {
  if (!zone.startsWith('America/')) return `+447700900${String(index % 1000).padStart(3, '0')}`;
  return `+1${['212', '415', '617', '303'][index % 4]}55501${String(index % 100).padStart(2, '0')}`;
}

/** Letters an address may hold; a name in another script becomes a plain word. */
const slug = (name: string): string =>
  name
    .normalize('NFD')
    .replace(/\p{M}/gu, '')
    .replaceAll('ł', 'l')
    .replaceAll('Ł', 'L')
    .replaceAll('ß', 'ss')
    .toLowerCase()
    .replace(/[^a-z]/g, '') || 'estrela';
