import { longDescriptionHtml, withLines } from './long-description';

describe('a long description', () => {
  it('reads headings, lists and paragraphs (CommonMark 0.31, 4.2, 5.2, 4.8)', () => {
    expect(longDescriptionHtml('## Sailings\n\n- 7:10 to Holm\n- 9:40 to Ness\n\nNone on Sundays.')).toBe(
      '<h2>Sailings</h2>\n<ul>\n<li>7:10 to Holm</li>\n<li>9:40 to Ness</li>\n</ul>\n<p>None on Sundays.</p>',
    );
  });

  it('ends a line where it was ended', () => {
    expect(longDescriptionHtml('Holm\r\nNess')).toBe('<p>Holm<br />\nNess</p>');
  });

  it('puts nothing into a page that could run', () => {
    const html = longDescriptionHtml('<img src=x onerror=alert(1)> [go](javascript:alert(1)) ![a](b.png)');
    expect(html).not.toContain('<img');
    expect(html).not.toContain('javascript:');
  });

  it('takes recognised lines for text, whatever they begin with', () => {
    const lines = ['# 1 Pier', '- closed -', '2. Holm', '*', '> quay', '1_000 [m]', '====', '<b>'];
    const html = longDescriptionHtml(withLines('', lines));
    expect(html).toBe(`<p>${lines.map((l) => l.replace(/</, '&lt;').replace(/>/, '&gt;')).join('<br />\n')}</p>`);
  });

  it('keeps what is written above them', () => {
    expect(withLines('## Winter\n', ['7:10', '9:40'])).toBe('## Winter\n\n7:10\n9:40');
  });
});
