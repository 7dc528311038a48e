import { parseTemplate } from 'url-template';
import { expandUriTemplate, readUriTemplate, type TemplateValue } from './uri-template';

// RFC 6570 §3.2, the variables of its examples.
const values: Record<string, TemplateValue> = {
  count: ['one', 'two', 'three'],
  dom: ['example', 'com'],
  dub: 'me/too',
  hello: 'Hello World!',
  half: '50%',
  var: 'value',
  who: 'fred',
  base: 'http://example.com/home/',
  path: '/foo/bar',
  list: ['red', 'green', 'blue'],
  keys: { semi: ';', dot: '.', comma: ',' },
  v: '6',
  x: '1024',
  y: '768',
  empty: '',
  empty_keys: {},
  undef: null,
};

// RFC 6570 §3.2.1 to §3.2.9: every example of the published text, the pattern and what it becomes.
const examples = `
{count} one,two,three
{count*} one,two,three
{/count} /one,two,three
{/count*} /one/two/three
{;count} ;count=one,two,three
{;count*} ;count=one;count=two;count=three
{?count} ?count=one,two,three
{?count*} ?count=one&count=two&count=three
{&count*} &count=one&count=two&count=three
{var} value
{hello} Hello%20World%21
{half} 50%25
O{empty}X OX
O{undef}X OX
{x,y} 1024,768
{x,hello,y} 1024,Hello%20World%21,768
?{x,empty} ?1024,
?{x,undef} ?1024
?{undef,y} ?768
{var:3} val
{var:30} value
{list} red,green,blue
{list*} red,green,blue
{keys} semi,%3B,dot,.,comma,%2C
{keys*} semi=%3B,dot=.,comma=%2C
{+var} value
{+hello} Hello%20World!
{+half} 50%25
{base}index http%3A%2F%2Fexample.com%2Fhome%2Findex
{+base}index http://example.com/home/index
O{+empty}X OX
O{+undef}X OX
{+path}/here /foo/bar/here
here?ref={+path} here?ref=/foo/bar
up{+path}{var}/here up/foo/barvalue/here
{+x,hello,y} 1024,Hello%20World!,768
{+path,x}/here /foo/bar,1024/here
{+path:6}/here /foo/b/here
{+list} red,green,blue
{+list*} red,green,blue
{+keys} semi,;,dot,.,comma,,
{+keys*} semi=;,dot=.,comma=,
{#var} #value
{#hello} #Hello%20World!
{#half} #50%25
foo{#empty} foo#
foo{#undef} foo
{#x,hello,y} #1024,Hello%20World!,768
{#path,x}/here #/foo/bar,1024/here
{#path:6}/here #/foo/b/here
{#list} #red,green,blue
{#list*} #red,green,blue
{#keys} #semi,;,dot,.,comma,,
{#keys*} #semi=;,dot=.,comma=,
{.who} .fred
{.who,who} .fred.fred
{.half,who} .50%25.fred
www{.dom*} www.example.com
X{.var} X.value
X{.empty} X.
X{.undef} X
X{.var:3} X.val
X{.list} X.red,green,blue
X{.list*} X.red.green.blue
X{.keys} X.semi,%3B,dot,.,comma,%2C
X{.keys*} X.semi=%3B.dot=..comma=%2C
X{.empty_keys} X
X{.empty_keys*} X
{/who} /fred
{/who,who} /fred/fred
{/half,who} /50%25/fred
{/who,dub} /fred/me%2Ftoo
{/var} /value
{/var,empty} /value/
{/var,undef} /value
{/var,x}/here /value/1024/here
{/var:1,var} /v/value
{/list} /red,green,blue
{/list*} /red/green/blue
{/list*,path:4} /red/green/blue/%2Ffoo
{/keys} /semi,%3B,dot,.,comma,%2C
{/keys*} /semi=%3B/dot=./comma=%2C
{;who} ;who=fred
{;half} ;half=50%25
{;empty} ;empty
{;v,empty,who} ;v=6;empty;who=fred
{;v,bar,who} ;v=6;who=fred
{;x,y} ;x=1024;y=768
{;x,y,empty} ;x=1024;y=768;empty
{;x,y,undef} ;x=1024;y=768
{;hello:5} ;hello=Hello
{;list} ;list=red,green,blue
{;list*} ;list=red;list=green;list=blue
{;keys} ;keys=semi,%3B,dot,.,comma,%2C
{;keys*} ;semi=%3B;dot=.;comma=%2C
{?who} ?who=fred
{?half} ?half=50%25
{?x,y} ?x=1024&y=768
{?x,y,empty} ?x=1024&y=768&empty=
{?x,y,undef} ?x=1024&y=768
{?var:3} ?var=val
{?list} ?list=red,green,blue
{?list*} ?list=red&list=green&list=blue
{?keys} ?keys=semi,%3B,dot,.,comma,%2C
{?keys*} ?semi=%3B&dot=.&comma=%2C
{&who} &who=fred
{&half} &half=50%25
?fixed=yes{&x} ?fixed=yes&x=1024
{&x,y,empty} &x=1024&y=768&empty=
{&x,y,undef} &x=1024&y=768
{&var:3} &var=val
{&list} &list=red,green,blue
{&list*} &list=red&list=green&list=blue
{&keys} &keys=semi,%3B,dot,.,comma,%2C
{&keys*} &semi=%3B&dot=.&comma=%2C
`
  .trim()
  .split('\n')
  .map((line) => line.split(' '));

const expand = (pattern: string, given: Record<string, TemplateValue>): string => {
  const read = readUriTemplate(pattern);
  if (!read.ok) throw new Error(JSON.stringify(read.problems));
  return expandUriTemplate(read.value, given);
};

describe('RFC 6570 patterns', () => {
  it('expand as the examples of §3.2 say', () => {
    expect(examples.length).toBe(115);
    for (const [pattern = '', expected] of examples)
      expect(expand(pattern, values))
        .withContext(pattern)
        .toBe(expected ?? '');
  });

  it('encode awkward text as an independent library does, and read back unharmed (RFC 3986 §2)', () => {
    const texts = [
      'a b',
      'a+b',
      'x&y=#z',
      '100 %',
      '50%20',
      'ção',
      '🌒👩‍🚀',
      "it's (new)!*",
      'line\nbreak',
      '"<>[]{}|\\^`',
      '漢字 עברית',
    ];
    for (const text of texts) {
      for (const pattern of ['https://c.example/add{?t}', '{t}', '{+t}', '{#t}']) {
        expect(expand(pattern, { t: text }))
          .withContext(pattern + text)
          .toBe(parseTemplate(pattern).expand({ t: text }));
      }
      expect(new URL(expand('https://c.example/add{?t}', { t: text })).searchParams.get('t')).toBe(text);
    }
  });

  it('name the place of what is broken instead of passing it through', () => {
    const broken: [string, number][] = [
      ['a{b', 2],
      ['a}b', 2],
      ['{}', 1],
      ['{a b}', 1],
      ['{a:0}', 1],
      ['{!a}', 1],
      ['https://x/ {a}', 11],
      ['{a,}', 1],
      ['{a{b}}', 1],
    ];
    for (const [pattern, at] of broken) {
      const read = readUriTemplate(pattern);
      expect(read.ok ? null : read.problems[0]?.facts?.['at'])
        .withContext(pattern)
        .toBe(at);
    }
  });
});
