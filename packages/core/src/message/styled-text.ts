const entities: Readonly<Record<string, string>> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' };
const escape = (text: string): string => text.replace(/[&<>"]/g, (mark) => entities[mark] ?? mark);

/**
 * Plain text as the little HTML that calendars show: blank lines part paragraphs, lines that begin with `- ` are a
 * list, `*words*` are bold, web addresses are links. Everything else is escaped, so no markup comes from data.
 */
export function styleText(text: string): string {
  return text
    .trim()
    .split(/\n{2,}/)
    .map((block) => {
      const lines = block.split('\n');
      if (lines.every((line) => /^- /.test(line)))
        return `<ul>${lines.map((line) => `<li>${styleLine(line.slice(2))}</li>`).join('')}</ul>`;
      return `<p>${lines.map(styleLine).join('<br>')}</p>`;
    })
    .join('');
}

function styleLine(line: string): string {
  return line
    .split(/(https?:\/\/[^\s<>"]+[^\s<>".,;:!?)\]])/)
    .map((piece, index) =>
      index % 2
        ? `<a href="${escape(piece)}">${escape(piece)}</a>`
        : escape(piece).replace(/(^|[\s(])\*([^\s*][^*]*)\*(?=$|[\s).,;:!?])/g, '$1<b>$2</b>'),
    )
    .join('');
}
