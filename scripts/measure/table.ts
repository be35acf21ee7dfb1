/** A table in Markdown: names to the left, figures to the right. */
export function table(head: string[], rows: string[][]): string {
  const line = (cells: string[]): string => `| ${cells.join(' | ')} |`;
  return [line(head), `|${head.map((_, i) => (i === 0 ? '---' : '--:')).join('|')}|`, ...rows.map(line), ''].join('\n');
}
