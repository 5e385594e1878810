import { marksToHtml } from './marks.ts';
import { fillLetter, firstTexts, letterHtml, letterKinds, letterProblems, mayBeStopped } from './letter.ts';

describe('a letter', () => {
  it('says where it is stopped if it can be, and is one that can be if it says so', () => {
    expect(letterKinds.filter((kind) => firstTexts[kind].body.includes('{stop}')).sort()).toEqual([...mayBeStopped].sort());
  });

  it('has its fields filled in once, and loses lines that hold nothing', () => {
    const text = { subject: 'To {name}', body: 'Hello {name},\n\n{words}\n\n{link}\n' };
    expect(fillLetter(text, { name: '{link}', link: 'https://x.example/a' })).toEqual({
      subject: 'To {link}',
      body: 'Hello {link},\n\nhttps://x.example/a\n',
    });
    expect(fillLetter(text, { words: 'See you there.', link: 'l' }).body).toBe('Hello,\n\nSee you there.\n\nl\n');
  });

  it('is told what is wrong before it is kept', () => {
    expect(letterProblems('invitation', { subject: 'Hi {nmae}', body: 'No way in' })).toEqual([
      { code: 'unknown field', field: 'nmae' },
      { code: 'no link' },
    ]);
    expect(letterProblems('turned away', { subject: 'Hi', body: 'No' })).toEqual([]);
    expect(letterProblems('turned away', { subject: ' ', body: 'No' })).toEqual([{ code: 'empty' }]);
  });

  it.each(letterKinds)('of the kind %s begins with a text that has nothing wrong', (kind) => {
    expect(letterProblems(kind, firstTexts[kind])).toEqual([]);
  });

  it('becomes HTML in which nothing that somebody wrote is markup', () => {
    const html = letterHtml({ subject: '<b>', body: 'Ada <script>alert(1)</script>\nsecond line\n\nhttps://x.example/?a="><img>&b=2\n' });
    expect(html).not.toMatch(/<script|<img|<b>/u);
    expect(html).toContain('second line</p>');
    expect(html).toContain('<a href="https://x.example/?a=">https://x.example/?a=</a>&#34;&#62;&#60;img&#62;');
  });
});

test.each([
  ['**Bring** boots', '<p><strong>Bring</strong> boots</p>'],
  ['- one\n- two', '<ul>\n<li>one</li>\n<li>two</li>\n</ul>'],
  [
    'See [the tide](https://tides.example/a?b=1&c=2)',
    '<p>See <a href="https://tides.example/a?b=1&amp;c=2" target="_blank" rel="noreferrer noopener">the tide</a></p>',
  ],
  ['a\nb', '<p>a<br>\nb</p>'],
  ['<script>alert(1)</script>', '<p>&lt;script&gt;alert(1)&lt;/script&gt;</p>'],
  ['[x](javascript:alert(1))', '<p>[x](javascript:alert(1))</p>'],
  [
    '# not a heading ![no](https://picture.example)',
    '<p># not a heading !<a href="https://picture.example" target="_blank" rel="noreferrer noopener">no</a></p>',
  ],
])('marks of %j', (text, html) => {
  expect(marksToHtml(text).trim()).toBe(html);
});
