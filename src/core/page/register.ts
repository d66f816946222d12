import type { Box } from './page';

/** A similarity transform from the page space of a layout to that of a page: x' = a·x − b·y + dx, y' = b·x + a·y + dy. */
export interface Registration {
  readonly a: number;
  readonly b: number;
  readonly dx: number;
  readonly dy: number;
  /** Pairs of words that agree with it. */
  readonly matched: number;
  /** Root mean square distance of those pairs after the transform, points. */
  readonly error: number;
}

export interface Pair {
  readonly from: readonly [number, number];
  readonly to: readonly [number, number];
}

/** At least this many landmark words recognise and register a page (common practice, no source). */
export const LEAST_PAIRS = 5;
/** Pairs farther off than this after fitting are mistakes of the matching, points. */
const OFF = 14;
const ROUNDS = 6;

/**
 * Shift, scale and small rotation by least squares over matched points, pairs that do not fit left out one round after the other
 * (closed form of the two-dimensional similarity: Umeyama 1991). Null with fewer than {@link LEAST_PAIRS} that agree.
 */
export function register(pairs: readonly Pair[]): Registration | null {
  let kept = [...pairs];
  for (let round = 0; round < ROUNDS; round += 1) {
    if (kept.length < LEAST_PAIRS) return null;
    const fit = leastSquares(kept);
    if (!fit) return null;
    const offs = kept.map((pair) => distance(fit, pair));
    const limit = Math.max(OFF, 2.5 * median(offs));
    const next = kept.filter((_, index) => (offs[index] ?? 0) <= limit);
    if (next.length === kept.length) {
      const error = Math.sqrt(offs.reduce((sum, off) => sum + off * off, 0) / offs.length);
      return error <= OFF * 2 ? { ...fit, matched: kept.length, error } : null;
    }
    kept = next;
  }
  return null;
}

type Fit = Pick<Registration, 'a' | 'b' | 'dx' | 'dy'>;

function leastSquares(pairs: readonly Pair[]): Fit | null {
  const mean = (pick: (pair: Pair) => number): number => pairs.reduce((sum, pair) => sum + pick(pair), 0) / pairs.length;
  const [mx, my, nx, ny] = [mean(({ from }) => from[0]), mean(({ from }) => from[1]), mean(({ to }) => to[0]), mean(({ to }) => to[1])];
  let [dot, cross, size] = [0, 0, 0];
  for (const { from, to } of pairs) {
    const [x, y, u, v] = [from[0] - mx, from[1] - my, to[0] - nx, to[1] - ny];
    dot += x * u + y * v;
    cross += x * v - y * u;
    size += x * x + y * y;
  }
  if (size < 1) return null;
  const [a, b] = [dot / size, cross / size];
  return { a, b, dx: nx - a * mx + b * my, dy: ny - b * mx - a * my };
}

const moved = ({ a, b, dx, dy }: Fit, [x, y]: readonly [number, number]): [number, number] => [a * x - b * y + dx, b * x + a * y + dy];

function distance(fit: Fit, { from, to }: Pair): number {
  const [x, y] = moved(fit, from);
  return Math.hypot(x - to[0], y - to[1]);
}

const median = (values: readonly number[]): number => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)] ?? 0;

/** A box of the layout on the page: the upright box around its moved corners. */
export function applied(registration: Fit, box: Box): Box {
  const corners = ([[box[0], box[1]], [box[2], box[1]], [box[0], box[3]], [box[2], box[3]]] as const).map((corner) => moved(registration, corner));
  const [xs, ys] = [corners.map(([x]) => x), corners.map(([, y]) => y)];
  return [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)];
}
