/** An empty field leaves no hole of blank lines, and an address that stands alone in a line is not said twice. */
export function tidyText(text: string): string {
  const said = text.match(addressShape) ?? [];
  const times = (address: string): number => said.filter((one) => one === address).length;
  const once = text
    .split('\n')
    .filter((line) => !/^https?:\/\/\S+$/.test(line.trim()) || times(line.trim()) < 2)
    .join('\n');
  return once.replace(/\n{3,}/g, '\n\n').trim();
}
const addressShape = /https?:\/\/\S+/g;
