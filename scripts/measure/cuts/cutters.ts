import opencv from '@techstark/opencv-js';
import { matteGround, matteOn, noTrim, defaultContext, rasterMarks, resizePicture, resizePlane, toRgba8, type Plane } from '@ritaglio/core';
import type { Cutter } from './run';

const context = defaultContext();

/** This program. */
export const ours: Cutter = async (shot) => {
  const ground = await matteGround(shot, context);
  return {
    answer: async (marks) => (await matteOn({ ground }, { marks, trim: noTrim }, context)).matte,
    loop: (points) => ({ kind: 'loop', radius: 6, points }),
  };
};

/** Longest side at which the vision library cuts: it takes half a minute a mark on the whole picture. */
const librarySide = 300;

/** The vision library's grabCut, three rounds a mark, on a reduced picture; its answer enlarged. */
export const library: Cutter = async (shot) => {
  await new Promise<void>((ready) => (opencv.Mat ? ready() : (opencv.onRuntimeInitialized = ready)));
  const cv = opencv;
  const scale = librarySide / Math.max(shot.width, shot.height);
  const [width, height] = [Math.round(shot.width * scale), Math.round(shot.height * scale)];
  const four = cv.matFromArray(height, width, cv.CV_8UC4, toRgba8(resizePicture(shot, width, height)) as unknown as number[]);
  const picture = new cv.Mat();
  cv.cvtColor(four, picture, cv.COLOR_RGBA2RGB);
  four.delete();
  return {
    answer: (marks) => {
      const codes = rasterMarks(marks, width, height, scale);
      // The rim is taken for background until something is marked there.
      if (!codes.includes(2)) for (let p = 0; p < width; p++) codes[p] ||= 2;
      const mask = cv.matFromArray(
        height,
        width,
        cv.CV_8UC1,
        Array.from(codes, (c) => [2, 1, 0, 3][c]),
      );
      const [back, front] = [new cv.Mat(), new cv.Mat()];
      cv.grabCut(picture, mask, new cv.Rect(0, 0, width, height), back, front, 1, cv.GC_INIT_WITH_MASK);
      const small: Plane = { width, height, data: Float32Array.from(mask.data as Uint8Array, (v) => (v === 1 || v === 3 ? 1 : 0)) };
      for (const m of [mask, back, front]) m.delete();
      return Promise.resolve(resizePlane(small, shot.width, shot.height));
    },
    loop: (points) => ({ kind: 'loop', radius: 6, points }),
  };
};
