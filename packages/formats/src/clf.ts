/** Points a side of the table. */
const side = 33;

/**
 * A grade as a Common LUT Format file (CLF 3, the open standard): a table of 33 × 33 × 33 from and to encoded sRGB, read by straight lines
 * between its points.
 *
 * @param id of the process, such as the job's name
 * @param grade a colour, encoded sRGB from 0 to 1, to the graded one
 */
export function writeClf(id: string, grade: (r: number, g: number, b: number) => readonly [number, number, number]): string {
  const escaped = id.replace(/&/g, '&amp;').replace(/</g, '&lt;').replace(/>/g, '&gt;').replace(/"/g, '&quot;');
  const rows: string[] = [];
  // Blue goes fastest.
  for (let r = 0; r < side; r++) {
    for (let g = 0; g < side; g++) {
      for (let b = 0; b < side; b++) {
        const out = grade(r / (side - 1), g / (side - 1), b / (side - 1));
        rows.push(out.map((v) => Math.min(1, Math.max(0, v)).toFixed(6)).join(' '));
      }
    }
  }
  return `<?xml version="1.0" encoding="UTF-8"?>
<ProcessList id="${escaped}" compCLFversion="3.0">
  <InputDescriptor>sRGB, encoded</InputDescriptor>
  <OutputDescriptor>sRGB, encoded</OutputDescriptor>
  <LUT3D id="grade" inBitDepth="32f" outBitDepth="32f" interpolation="trilinear">
    <Array dim="${side} ${side} ${side} 3">
${rows.join('\n')}
    </Array>
  </LUT3D>
</ProcessList>
`;
}
