import { fromSamples, rasterMarks, type Mark, type Picture, type Plane } from '@ritaglio/core';
import opencv from '@techstark/opencv-js';

/** What a general-purpose vision library does for the same picture. */
export interface Vision {
  cut: (marks: Mark[]) => void;
  /** Its two ways: marching from the rim, and fluid flow. */
  inpaint: (hole: Plane, way?: 'marching' | 'flow') => Picture;
  disc: (diameter: number) => void;
  gaussian: (sigma: number) => void;
  /** Dense flow from one brightness, 0 to 1, to another: where each pixel went, px. */
  flow: (from: Plane, to: Plane) => { u: Float32Array; v: Float32Array };
}

/** Sets the library up with the picture once; every call works on it anew. */
export async function vision(rgba: Uint8ClampedArray | Uint8Array, width: number, height: number): Promise<Vision> {
  // The module has a `then` that hands out the module itself: awaited, it would never end.
  await new Promise<void>((ready) => (opencv.Mat ? ready() : (opencv.onRuntimeInitialized = ready)));
  const cv = opencv;
  const four = cv.matFromArray(height, width, cv.CV_8UC4, rgba as unknown as number[]);
  const picture = new cv.Mat();
  cv.cvtColor(four, picture, cv.COLOR_RGBA2RGB);
  four.delete();
  const light = new cv.Mat();
  picture.convertTo(light, cv.CV_32FC3, 1 / 255);
  const out = new cv.Mat();
  const grey = ({ width: w, height: h, data }: Plane) => cv.matFromArray(h, w, cv.CV_8UC1, Array.from(data, (b) => Math.round(255 * Math.min(1, Math.max(0, b))))); // prettier-ignore
  return {
    flow: (from, to) => {
      const [one, other, out2] = [grey(from), grey(to), new cv.Mat()];
      cv.calcOpticalFlowFarneback(one, other, out2, 0.5, 4, 15, 3, 5, 1.2, 0);
      const flow = out2.data32F;
      const n = from.data.length;
      const [u, v] = [new Float32Array(n), new Float32Array(n)];
      for (let p = 0; p < n; p++) [u[p], v[p]] = [flow[2 * p], flow[2 * p + 1]];
      for (const m of [one, other, out2]) m.delete();
      return { u, v };
    },
    cut: (marks) => {
      const codes = rasterMarks(marks, width, height, 1);
      // Sure background 0, sure foreground 1, perhaps background 2, perhaps foreground 3.
      const mask = cv.matFromArray(
        height,
        width,
        cv.CV_8UC1,
        Array.from(codes, (c) => [2, 1, 0, 3][c]),
      );
      const [back, front] = [new cv.Mat(), new cv.Mat()];
      cv.grabCut(picture, mask, new cv.Rect(0, 0, width, height), back, front, 1, cv.GC_INIT_WITH_MASK);
      for (const m of [mask, back, front]) m.delete();
    },
    inpaint: (hole, way = 'marching') => {
      const mask = cv.matFromArray(
        height,
        width,
        cv.CV_8UC1,
        Array.from(hole.data, (h) => (h > 0.01 ? 255 : 0)),
      );
      cv.inpaint(picture, mask, out, 3, way === 'marching' ? cv.INPAINT_TELEA : cv.INPAINT_NS);
      mask.delete();
      return fromSamples({ width, height, channels: 3, data: new Uint8Array(out.data) });
    },
    disc: (diameter) => {
      const reach = Math.ceil(diameter / 2);
      const size = 2 * reach + 1;
      const values = Array.from({ length: size * size }, (_, i) =>
        Math.hypot((i % size) - reach, Math.floor(i / size) - reach) <= diameter / 2 ? 1 : 0,
      );
      const sum = values.reduce<number>((a, b) => a + b, 0);
      const kernel = cv.matFromArray(
        size,
        size,
        cv.CV_32F,
        values.map((k) => k / sum),
      );
      cv.filter2D(light, out, -1, kernel);
      kernel.delete();
    },
    gaussian: (sigma) => cv.GaussianBlur(light, out, new cv.Size(0, 0), sigma, sigma),
  };
}
