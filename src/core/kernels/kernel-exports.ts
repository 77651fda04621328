/** A place in the memory of the kernels. */
export type Pointer = number;

/** What `assembly` exports; each function says there what it takes. */
export interface Kernels {
  firstFree(): Pointer;
  sharedMotion(field: Pointer, out: Pointer): void;
  addMotion(field: Pointer, motion: Pointer, sign: number): void;
  doubtUnexpected(field: Pointer, motion: Pointer, half: number): void;
  pullPush(field: Pointer, scratch: Pointer): void;
  invertField(field: Pointer, out: Pointer): void;
  chainFields(first: Pointer, second: Pointer, x: number, y: number, out: Pointer): void;
  matchLevel(
    from: Pointer,
    mask: Pointer,
    target: Pointer,
    guess: Pointer,
    other: Pointer,
    lightChange: number,
    reach: number,
    out: Pointer,
    found: Pointer,
  ): void;
  smoothFlow(
    from: Pointer,
    target: Pointer,
    field: Pointer,
    alpha: number,
    delta: number,
    gamma: number,
    rounds: number,
    relaxations: number,
    scratch: Pointer,
  ): void;
  splatFlow(from: Pointer, to: Pointer, flow: Pointer, back: Pointer, share: number, scale: number, agreed: Pointer, out: Pointer): void;
  missAt(from: Pointer, to: Pointer, middle: Pointer, share: number, miss: Pointer): void;
  blendBetween(
    a: Pointer,
    b: Pointer,
    width: number,
    height: number,
    first: Pointer,
    second: Pointer,
    share: number,
    mixed: number,
    missFirst: Pointer,
    missSecond: Pointer,
    missStill: Pointer,
    shownA: Pointer,
    shownB: Pointer,
    out: Pointer,
  ): void;
  dotTable(a: Pointer, n: number, b: Pointer, m: number, length: number, out: Pointer): void;
  markTorn(motion: Pointer, back: Pointer, torn: Pointer): void;
  explain(
    from: Pointer,
    to: Pointer,
    back: Pointer,
    torn: Pointer,
    cover: Pointer,
    other: Pointer,
    left: number,
    top: number,
    wanted: Pointer,
    miss: Pointer,
    covers: Pointer,
    others: Pointer,
    shown: Pointer,
    colours: Pointer,
  ): void;
  warp(
    back: Pointer,
    luma: Pointer,
    cover: Pointer,
    gain: number,
    scale: number,
    left: number,
    top: number,
    warped: Pointer,
    weight: Pointer,
  ): void;
  fitColours(
    features: Pointer,
    places: Pointer,
    length: number,
    count: number,
    most: number,
    rounds: number,
    leastVariance: number,
    scratch: Pointer,
    out: Pointer,
  ): number;
  logDensity(mixture: Pointer, count: number, a: number, b: number, c: number): number;
  colourRatios(
    features: Pointer,
    asked: Pointer,
    n: number,
    inside: Pointer,
    insides: number,
    outside: Pointer,
    outsides: number,
    most: number,
    out: Pointer,
  ): void;
  judgeColours(
    features: Pointer,
    signed: Pointer,
    places: Pointer,
    length: number,
    own: Pointer,
    owns: number,
    other: Pointer,
    others: number,
    near: number,
    told: Pointer,
  ): void;
  vote(
    features: Pointer,
    band: Pointer,
    width: number,
    height: number,
    x: number,
    y: number,
    radius: number,
    inside: Pointer,
    insides: number,
    outside: Pointer,
    outsides: number,
    trust: number,
    ratios: Pointer,
    votes: Pointer,
  ): void;
  solveCut(width: number, height: number, residual: Pointer, terminal: Pointer, source: Pointer, scratch: Pointer): void;
  slopesAlongEdge(coverage: Pointer, colours: Pointer, width: number, height: number, slopes: Pointer, known: Pointer): void;
  enlargeCoverage(
    coverage: Pointer,
    colours: Pointer,
    slopes: Pointer,
    known: Pointer,
    width: number,
    height: number,
    picture: Pointer,
    fullWidth: number,
    fullHeight: number,
    columns: Pointer,
    columnShares: Pointer,
    rows: Pointer,
    rowShares: Pointer,
    out: Pointer,
  ): void;
  carryPlane(back: Pointer, plane: Pointer, left: number, top: number, out: Pointer): void;
  contrastCosts(squared: Pointer, n: number, most: number, out: Pointer): void;
  cutBand(features: Pointer, band: Pointer, lean: Pointer, inside: Pointer, width: number, height: number, scratch: Pointer): void;
  coverAlongEdge(features: Pointer, signed: Pointer, behind: Pointer, seen: Pointer, width: number, height: number, out: Pointer): void;
  mixColours(
    features: Pointer,
    unknown: Pointer,
    alpha: Pointer,
    width: number,
    height: number,
    spread: Pointer,
    spreadCount: number,
    nearest: Pointer,
    weight: Pointer,
  ): void;
  followColour(features: Pointer, weight: Pointer, alpha: Pointer, width: number, height: number, radius: number, scratch: Pointer): void;
  geodesicDistances(costs: Pointer, width: number, height: number, out: Pointer): void;
  bestShift(
    from: Pointer,
    to: Pointer,
    width: number,
    height: number,
    pixels: Pointer,
    count: number,
    reach: number,
    most: number,
    least: number,
  ): number;
  averagePicture(
    from: Pointer,
    width: number,
    columns: Pointer,
    columnWeights: Pointer,
    columnCount: number,
    rows: Pointer,
    rowWeights: Pointer,
    rowCount: number,
    out: Pointer,
    outWidth: number,
    outHeight: number,
    scratch: Pointer,
  ): void;
  boxBlur(plane: Pointer, radius: number, scratch: Pointer): void;
  signedDistance(inside: Pointer, width: number, height: number, out: Pointer): void;
  squaredDistances(inside: Pointer, value: number, width: number, height: number, out: Pointer, scratch: Pointer): void;
  toLight(picture: Pointer, coverage: Pointer, from: number, to: number, linear: Pointer, out: Pointer): void;
  drawLight(
    light: Pointer,
    width: number,
    height: number,
    edges: number,
    maps: Pointer,
    count: number,
    display: Pointer,
    closed: Pointer,
    across: number,
    scratch: Pointer,
    left: number,
    top: number,
    right: number,
    bottom: number,
    out: Pointer,
  ): void;
  premultiply(picture: Pointer, coverage: Pointer, n: number, out: Pointer): void;
  isOpaque(picture: Pointer, n: number): number;
  closeCovered(coverage: Pointer, width: number, top: number, bottom: number, index: number, closed: Pointer): number;
  closeBySurface(
    surface: Pointer,
    width: number,
    left: number,
    top: number,
    right: number,
    bottom: number,
    index: number,
    closed: Pointer,
  ): number;
  layAligned(
    picture: Pointer,
    opaque: boolean,
    coverage: Pointer,
    opacity: number,
    width: number,
    top: number,
    bottom: number,
    closed: Pointer,
    index: number,
    out: Pointer,
  ): void;
  laySampled(
    picture: Pointer,
    width: number,
    height: number,
    opaque: boolean,
    a: number,
    b: number,
    c: number,
    d: number,
    e: number,
    f: number,
    mirrored: boolean,
    coverage: Pointer,
    opacity: number,
    outWidth: number,
    top: number,
    bottom: number,
    closed: Pointer,
    index: number,
    out: Pointer,
  ): void;
  laySurface(
    surface: Pointer,
    coverage: Pointer,
    opacity: number,
    mode: number,
    outWidth: number,
    left: number,
    top: number,
    right: number,
    bottom: number,
    closed: Pointer,
    index: number,
    out: Pointer,
  ): void;
  replaceIn(made: Pointer, coverage: Pointer, opacity: number, width: number, top: number, bottom: number, out: Pointer): void;
  layOverColour(picture: Pointer, n: number, colour: number): void;
  fade(first: Pointer, second: Pointer, weight: number, n: number, out: Pointer): void;
  coveredPart(coverage: Pointer, width: number, height: number, out: Pointer): void;
  invertCoverage(coverage: Pointer, n: number): void;
  joinCoverage(how: number, matte: Pointer, n: number, into: Pointer): void;
  placeCoverage(
    stored: Pointer,
    width: number,
    height: number,
    a: number,
    b: number,
    c: number,
    d: number,
    e: number,
    f: number,
    outWidth: number,
    outHeight: number,
    out: Pointer,
  ): void;
  fillPolygon(points: Pointer, count: number, width: number, height: number, deltas: Pointer, marks: Pointer, out: Pointer): void;
  polygonArea(points: Pointer, count: number, width: number, height: number, deltas: Pointer, marks: Pointer): number;
  fillRamp(
    points: Pointer,
    count: number,
    grow: number,
    ramp: number,
    width: number,
    height: number,
    distances: Pointer,
    winding: Pointer,
    out: Pointer,
  ): void;
  softPart(alpha: Pointer, width: number, height: number, none: number, own: number, out: Pointer): void;
  cleanSoftEdge(
    picture: Pointer,
    alpha: Pointer,
    width: number,
    left: number,
    top: number,
    right: number,
    bottom: number,
    radius: number,
    none: number,
    own: number,
    strength: number,
    weights: Pointer,
    scratch: Pointer,
    out: Pointer,
  ): void;
  insideOf(picture: Pointer, n: number, out: Pointer): void;
  linesAround(
    picture: Pointer,
    signed: Pointer,
    n: number,
    first: number,
    apart: number,
    wide: number,
    count: number,
    fall: number,
    amount: number,
    r: number,
    g: number,
    b: number,
    out: Pointer,
  ): void;
  movedCover(picture: Pointer, width: number, height: number, x: number, y: number, u: number, v: number, out: Pointer): void;
  layOverCover(picture: Pointer, cover: Pointer, n: number, amount: number, r: number, g: number, b: number, out: Pointer): void;
  keepSeparable(picture: Pointer, across: Pointer, down: Pointer, width: number, height: number, out: Pointer): void;
  cropTurned(
    picture: Pointer,
    width: number,
    height: number,
    c: number,
    s: number,
    across: number,
    down: number,
    left: number,
    right: number,
    top: number,
    bottom: number,
    soft: number,
    out: Pointer,
  ): void;
  towardsColour(picture: Pointer, n: number, amount: number, r: number, g: number, b: number, out: Pointer): void;
  throughTable(picture: Pointer, n: number, table: Pointer, out: Pointer): void;
  movedMirrored(picture: Pointer, width: number, height: number, c: number, s: number, dx: number, dy: number, out: Pointer): void;
  floatsOf(picture: Pointer, n: number, out: Pointer): void;
  meanAlong(pixels: Pointer, width: number, height: number, places: Pointer, count: number, bytes: boolean, out: Pointer): void;
  brightOf(picture: Pointer, n: number, channel: number, least: number, scale: number, linear: Pointer, out: Pointer): void;
  addShed(
    picture: Pointer,
    r: Pointer,
    g: Pointer,
    b: Pointer,
    n: number,
    amount: number,
    linear: Pointer,
    display: Pointer,
    out: Pointer,
  ): void;
  frayed(picture: Pointer, signed: Pointer, width: number, height: number, depth: number, size: number, seed: number, out: Pointer): void;
  brightness(picture: Pointer, n: number, out: Pointer): void;
  sketched(
    picture: Pointer,
    soft: Pointer,
    gx: Pointer,
    gy: Pointer,
    width: number,
    height: number,
    amount: number,
    line: number,
    strength: number,
    hatch: number,
    grain: number,
    seed: number,
    paper: Pointer,
    ink: Pointer,
    out: Pointer,
  ): void;
  yuvToRgb(planes: Pointer, width: number, height: number, scratch: Pointer, out: Pointer): void;
  rgbToYuv(picture: Pointer, width: number, height: number, whole: number, planes: Pointer): number;
}
