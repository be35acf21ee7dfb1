import { contoursOf, pathTo, snapped, waysAlong, type Context, type Contours, type MatteGround, type Ways } from '@ritaglio/core';

/** Ways along the contours of one shot. What was worked out from a point is kept for the next way from it. */
export class Tracing {
  private traced?: { ground: MatteGround; contours: Contours; ways?: { from: string; ways: Ways } };

  /** From one point of the full-size shot to another, both moved to the nearest contour. */
  async way(ground: MatteGround, from: [number, number], to: [number, number], context: Context): Promise<[number, number][]> {
    const finest = ground.levels.length - 1;
    if (this.traced?.ground !== ground) this.traced = { ground, contours: await contoursOf(ground.levels[finest], context) };
    const { contours } = this.traced;
    const each = ground.ratios[finest] * context.scale;
    const small = ([x, y]: [number, number]): [number, number] => snapped(contours, [x * each, y * each]);
    const begin = small(from);
    if (this.traced.ways?.from !== begin.join()) this.traced.ways = { from: begin.join(), ways: waysAlong(contours, begin) };
    const full = (v: number): number => Math.round((v / each) * 10) / 10;
    return pathTo(this.traced.ways.ways, small(to)).map(([x, y]) => [full(x), full(y)]);
  }
}
