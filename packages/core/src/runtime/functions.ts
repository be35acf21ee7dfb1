/** Where something begins in the memory of compiled code, bytes. */
export type Address = number;

/** What `packages/core/assembly` offers, by `npm run compile`; what each does is said there. */
export interface Functions {
  memory: WebAssembly.Memory;
  addDown(rows: Address, width: number, count: number, weights: Address, out: Address): void;
  addTo(n: number, mask: Address, part: Address): void;
  addWindows(
    width: number,
    height: number,
    from: number,
    to: number,
    top: number,
    r: Address,
    g: Address,
    b: Address,
    nodes: Address,
    known: Address,
    ends: Address,
    slots: Address,
    epsilon: number,
    first: number,
    diagonal: Address,
    off: Address,
    partner: Address,
    right: Address,
  ): void;
  agreedPlaces(n: number, label: number, seeds: number, wanted: number, code: number, out: number): number;
  alignOn(
    width: number,
    height: number,
    stride: number,
    from: Address,
    to: Address,
    slopesAcross: Address,
    slopesDown: Address,
    hiddenFrom: Address,
    hiddenTo: Address,
  ): void;
  alignResiduals(map: number, gain: number, offset: number, out: number): number;
  alignSums(
    map: Address,
    gain: number,
    offset: number,
    free: Address,
    freeCount: number,
    cut: number,
    row: Address,
    normal: Address,
    right: Address,
  ): void;
  askTiles(
    n: number,
    asking: Address,
    l: Address,
    a: Address,
    b: Address,
    width: number,
    pitch: number,
    across: number,
    parts: Address,
    most: number,
    end: number,
    told: Address,
    weight: Address,
  ): void;
  bandAgainst(
    n: number,
    seeds: Address,
    near: Address,
    label: Address,
    known: Address,
    told: Address,
    found: Address,
    much: number,
    plain: number,
    out: Address,
  ): void;
  bandAsks(n: number, seeds: Address, near: Address, label: Address, known: Address, asked: Address): void;
  bandTrimap(n: number, seeds: Address, along: Address, doubtful: Address, label: Address, out: Address): void;
  betterRow(
    target: Address,
    at: Address,
    cost: Address,
    left: number,
    right: number,
    y: number,
    step: number,
    far: number,
    seed: number,
  ): void;
  between(n: number, values: Address, above: number, below: number, out: Address): void;
  blurRows(
    width: number,
    height: number,
    top: number,
    bottom: number,
    from: number,
    to: number,
    source: Address,
    taps: Address,
    radius: number,
    padded: Address,
    across: Address,
    out: Address,
  ): void;
  borderOf(label: Address, width: number, height: number, out: Address): void;
  boxMean(width: number, height: number, radius: number, data: Address, across: Address, sums: Address, out: Address): void;
  bringAlong(width: number, height: number, u: Address, v: Address, planes: Address, count: number, out: Address): void;
  bringRows(
    width: number,
    from: number,
    to: number,
    map: Address,
    wide: number,
    high: number,
    top: number,
    rows: number,
    picture: Address,
    weights: Address,
    gain: Address,
    margin: number,
    out: Address,
    nearest: Address,
  ): void;
  carryKinds(width: number, upper: number, lower: number, solved: Address, again: Address, kinds: Address): void;
  carryRow(
    width: number,
    smallWidth: number,
    kinds: Address,
    a: Address,
    left: Address,
    share: Address,
    r: Address,
    g: Address,
    b: Address,
    codes: Address,
    upper: Address,
    lower: Address,
    down: number,
    out: Address,
  ): void;
  cluster(n: number, points: Address, count: number, centres: Address, rounds: number, sums: Address, member: Address): void;
  colourLines(
    width: number,
    height: number,
    top: number,
    r: Address,
    g: Address,
    b: Address,
    a: Address,
    wanted: Address,
    from: number,
    to: number,
    lines: Address,
  ): void;
  correct(
    x: number,
    y: number,
    wide: number,
    high: number,
    wanted: Address,
    halo: number,
    room: Address,
    one: Address,
    other: Address,
    row: Address,
    out: Address,
  ): void;
  costPatches(target: Address, at: Address, cost: Address, left: number, top: number, right: number, bottom: number): void;
  cutBegin(nodes: number, besideAt: Address, pairwiseAt: Address, unaryAt: Address, room: Address): void;
  cutGrow(rounds: number): number;
  cutRoom(nodes: number): number;
  cutSides(out: Address): void;
  differing(n: number, codes: Address, otherCodes: Address, numbers: Address, otherNumbers: Address, out: Address): void;
  distanceTo(goal: Address, width: number, height: number, limit: number, room: Address, out: Address): void;
  encode(n: number, light: Address, codes: Address, out: Address): void;
  enlargeLabel(
    label: Address,
    smallWidth: number,
    smallHeight: number,
    left: Address,
    share: Address,
    width: number,
    height: number,
    kinds: Address,
    out: Address,
  ): void;
  evidence(
    n: number,
    l: Address,
    a: Address,
    b: Address,
    busy: Address,
    wanted: Address,
    inside: Address,
    insideParts: number,
    outside: Address,
    outsideParts: number,
    end: number,
    out: Address,
  ): void;
  flanked(
    width: number,
    height: number,
    values: Address,
    asked: Address,
    sign: number,
    most: number,
    beside: number,
    drop: number,
    steps: number,
    out: Address,
  ): void;
  flowBegin(smallWidth: number, smallHeight: number, smallU: Address, smallV: Address, u: Address, v: Address): void;
  flowOn(width: number, height: number, a: Address, b: Address, room: Address): void;
  flowSearch(u: Address, v: Address, cost: Address, back: number): void;
  flowSpread(u: Address, v: Address, outU: Address, outV: Address, weight: Address): void;
  followWays(
    width: number,
    height: number,
    l: Address,
    a: Address,
    b: Address,
    toll: Address,
    costs: Address,
    step: number,
    edges: number,
    from: Address,
    count: number,
    room: Address,
  ): void;
  groundEvidence(
    n: number,
    around: Address,
    factor: Address,
    certain: Address,
    seen: Address,
    threshold: number,
    noise: number,
    out: Address,
  ): void;
  growMask(mask: Address, width: number, height: number, reach: number, half: Address, out: Address): void;
  halfDiscs(
    width: number,
    height: number,
    plane: Address,
    pitch: number,
    radius: number,
    offsets: Address,
    shares: Address,
    ends: Address,
    weight: number,
    least: number,
    out: Address,
  ): void;
  joinAll(width: number, height: number, beside: Address, pairwise: Address): void;
  joinNarrowBand(
    width: number,
    height: number,
    label: Address,
    seeds: Address,
    drawn: Address,
    node: Address,
    beside: Address,
    pairwise: Address,
    unary: Address,
    lastNode: Address,
    lastBeside: Address,
    lastJoint: Address,
  ): void;
  keepWhere(n: number, mask: Address, part: Address, has: number): void;
  learnedBy(count: number, reaches: Address, numbers: Address, added: number, least: number): void;
  learnedOn(across: number, down: number, r: Address, g: Address, b: Address, a: Address, table: Address, states: Address): void;
  lightOnGround(width: number, height: number, known: Address, shot: Address, ground: Address, rooms: Address, out: Address): void;
  linesBegin(open: Address, sure: Address, copied: Address, rowStarts: Address, sources: Address, luck: Address, room: Address): void;
  linesGrow(most: number): number;
  lookForPairs(
    from: number,
    to: number,
    trimap: Address,
    looking: Address,
    reach: number,
    ways: Address,
    bestIn: Address,
    bestOut: Address,
    looked: Address,
  ): void;
  markLabel(n: number, seeds: Address, label: Address): void;
  maskOfCode(n: number, codes: Address, code: number, out: Address): void;
  numberPixels(mask: number, n: number, node: number): number;
  onPaths(width: number, height: number, mask: Address, least: number, gap: number, room: Address, out: Address): void;
  openUnknowns(
    width: number,
    height: number,
    trimap: number,
    along: number,
    opacity: number,
    known: number,
    node: number,
    pixel: number,
    ends: number,
  ): number;
  pairsOn(
    across: number,
    down: number,
    red: Address,
    green: Address,
    blue: Address,
    backRed: Address,
    backGreen: Address,
    backBlue: Address,
    half: number,
  ): void;
  pairwiseOn(light: Address, green: Address, blue: Address, steep: number, lines: Address, n: number): void;
  patchesAlong(length: number): number;
  patchesOn(
    width: number,
    height: number,
    packedColours: Address,
    guideColours: Address,
    sourceMask: Address,
    room: Address,
    up: number,
    across: number,
    held: number,
  ): void;
  perceive(n: number, red: Address, green: Address, blue: Address, roots: Address, light: Address, a: Address, b: Address): void;
  placesOf(n: number, mask: number, out: number): number;
  plainOf(
    width: number,
    height: number,
    green: Address,
    away: Address,
    other: number,
    share: number,
    smooth: number,
    rooms: Address,
    out: Address,
  ): void;
  pullDown(width: number, height: number, data: Address, weight: Address, out: Address): void;
  pullWeight(width: number, height: number, weight: Address, out: Address): void;
  pushUp(width: number, height: number, data: Address, weight: Address, small: Address, out: Address): void;
  round(last: boolean): void;
  roundsBegin(
    n: number,
    diagonalAt: Address,
    offAt: Address,
    partnerAt: Address,
    right: Address,
    unknowns: Address,
    least: number,
    room: Address,
  ): void;
  runsOf(mask: number, width: number, height: number, start: number, end: number): number;
  sampleOf(n: number, pixels: number, limit: number, out: number): number;
  settleUnknowns(n: number, count: number, pixel: Address, x: Address, again: Address, before: Address, out: Address): void;
  shadeOf(
    width: number,
    height: number,
    light: Address,
    behind: Address,
    noise: number,
    left: number,
    textured: number,
    like: number,
    rooms: Address,
    factor: Address,
    certain: Address,
  ): void;
  shed(
    width: number,
    reach: number,
    count: number,
    first: number,
    data: Address,
    source: Address,
    from: Address,
    to: Address,
    left: number,
    right: number,
    top: number,
    bottom: number,
    chords: Address,
    chordCount: number,
    sums: Address,
    out: Address,
  ): void;
  smallTrimap(
    trimap: Address,
    width: number,
    height: number,
    column: Address,
    line: Address,
    smallWidth: number,
    smallHeight: number,
    out: Address,
  ): void;
  smoothLines(
    width: number,
    height: number,
    first: number,
    lines: Address,
    top: number,
    wanted: Address,
    from: number,
    to: number,
    out: Address,
  ): void;
  sourcesOf(n: number, near: Address, seeds: Address, label: Address, out: Address): void;
  squaredAway(n: number, light: Address, behind: Address, out: Address): void;
  sumSlopes(
    width: number,
    height: number,
    light: Address,
    block: number,
    dim: number,
    most: number,
    across: number,
    xx: Address,
    xy: Address,
    yy: Address,
  ): void;
  takeAcross(row: Address, first: Address, count: number, weights: Address, width: number, out: Address): void;
  takePairs(
    from: number,
    to: number,
    top: number,
    bestIn: Address,
    bestOut: Address,
    trimap: Address,
    taking: Address,
    opacity: Address,
    trust: Address,
    left: Address,
  ): void;
  takeSides(n: number, node: Address, sides: Address, label: Address): void;
  thinContours(width: number, height: number, small: Address, large: Address, share: number, out: Address): void;
  tilesOf(n: number, pixels: Address, width: number, pitch: number, across: number, out: Address): void;
  unaryAnew(n: number, seeds: Address, colour: Address, place: Address, unary: Address, unaryBefore: Address): void;
  unexplained(
    width: number,
    height: number,
    open: Address,
    light: Address,
    lit: Address,
    left: Address,
    limit: number,
    off: number,
    rooms: Address,
    out: Address,
  ): void;
  votes(
    width: number,
    target: Address,
    open: Address,
    at: Address,
    likeness: Address,
    colours: Address,
    kernel: Address,
    left: number,
    top: number,
    right: number,
    bottom: number,
    sums: Address,
  ): void;
  widenMask(
    mask: Address,
    width: number,
    height: number,
    reach: number,
    across: Address,
    until: Address,
    filled: Address,
    out: Address,
  ): void;
}
