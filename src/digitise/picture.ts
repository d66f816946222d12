import sharp, { type Sharp } from 'sharp';
import { LIMITS } from './limits';

/** Steps of the clean-up before recognition, each of which can be switched off per kind. */
export interface CleanUp {
  readonly orientation: boolean;
  readonly deskew: boolean;
  readonly contrast: boolean;
  readonly despeckle: boolean;
}

export const ALL_CLEAN: CleanUp = { orientation: true, deskew: true, contrast: true, despeckle: true };

/** A page as a picture: grey, upright once it has been cleaned. */
export interface Picture {
  /** One byte per dot, 0 black to 255 white, row by row. Not packed: every step would have to unpack it again. */
  readonly dots: Buffer;
  readonly width: number;
  readonly height: number;
  readonly dpi: number;
}

/** What the clean-up did to a page. */
export interface Cleaned extends Picture {
  /** Degrees by which it was turned clockwise, quarter turns left out. */
  readonly skew: number;
}

/** Recognition works best between these resolutions. Enlarging pages of 200 dpi was measured: slower, and no word better. */
const RECOGNITION_DPI = { least: 180, good: 220, most: 330 } as const;
/** Steeper than this is a picture of something, not a scan. */
const MOST_SKEW = 8;
/** Crookedness below this costs the recogniser nothing, degrees. */
const LEAST_SKEW = 0.12;

const open = ({ dots, width, height }: Picture): Sharp => sharp(dots, { raw: { width, height, channels: 1 } });

async function close(image: Sharp, dpi: number): Promise<Picture> {
  const { data, info } = await image.toColourspace('b-w').raw().toBuffer({ resolveWithObject: true });
  return { dots: data, width: info.width, height: info.height, dpi };
}

/** The picture as a file that browsers show. */
export const asPng = (picture: Picture): Promise<Buffer> => open(picture).png({ compressionLevel: 6 }).toBuffer();

/** The picture as a portable graymap, which needs no packing (netpbm PGM, magic number P5). */
export const asGraymap = ({ dots, width, height }: Picture): Buffer => Buffer.concat([Buffer.from(`P5\n${width} ${height}\n255\n`, 'latin1'), dots]);

/** A page of a picture file as a grey picture. Throws with a sentence when the bytes are no picture. */
export async function openPicture(bytes: Buffer, page = 0, dpi?: number): Promise<Picture> {
  const image = sharp(bytes, { page, limitInputPixels: LIMITS.picturePixels, failOn: 'error' });
  const { density, width, height } = await image.metadata();
  return close(image.autoOrient().flatten({ background: '#ffffff' }).greyscale(), dpi ?? resolutionOf(width, height, density));
}

/** A page of a picture file as browsers show it. */
export const pictureOfFile = (bytes: Buffer, page: number, how: 'grey' | 'as it is'): Promise<Buffer> => {
  const image = sharp(bytes, { page, limitInputPixels: LIMITS.picturePixels }).autoOrient().resize({ width: 1700, withoutEnlargement: true });
  return (how === 'grey' ? image.greyscale() : image).png().toBuffer();
};

/** Files of 72 dpi are screens and cameras that say nothing; then a page of A4 is assumed, or a slip 80 mm wide when it is long and narrow. */
function resolutionOf(width: number, height: number, density: number | undefined): number {
  if (density !== undefined && density >= 100 && density <= 1200) return density;
  const [short, long] = [Math.min(width, height), Math.max(width, height)];
  return long / short > 2.2 ? short / (80 / 25.4) : long / (297 / 25.4);
}

/** Even out the light, take specks away, straighten. */
export async function cleanUp(picture: Picture, steps: CleanUp): Promise<Cleaned> {
  const lit = steps.contrast ? await evenLight(picture) : picture;
  const clean = steps.despeckle ? withoutSpecks(lit) : lit;
  const skew = steps.deskew ? await skewOf(clean) : 0;
  return { ...(Math.abs(skew) >= LEAST_SKEW ? await close(open(clean).rotate(-skew, { background: '#ffffff' }), clean.dpi) : clean), skew };
}

/** Turn by quarters, clockwise. */
export const quarterTurned = async (picture: Picture, quarters: 0 | 1 | 2 | 3): Promise<Picture> => (quarters === 0 ? picture : close(open(picture).rotate(90 * quarters), picture.dpi));

/** Width of the picture in which crookedness is measured; letters are still told from gaps between lines. */
const MEASURED_WIDTH = 900;

/** Steps of grey by which a dot must be darker than what stands beside it; grain is less. */
const DARKER = 30;

interface Dots {
  /** x and y of every dark dot, in turn. */
  readonly xy: Int16Array;
  readonly width: number;
  readonly height: number;
}

async function darkDots(picture: Picture): Promise<Dots> {
  const { data, info } = await open(picture).resize({ width: Math.min(MEASURED_WIDTH, picture.width) }).blur(0.8).toColourspace('b-w').raw().toBuffer({ resolveWithObject: true });
  const { width, height, channels } = info;
  // A dot counts when it is clearly darker than its surroundings, so that shadows and stains do not.
  const xy: number[] = [];
  const reach = 6;
  for (let y = 0; y < height; y += 1) {
    for (let x = reach; x < width - reach; x += 1) {
      const at = (y * width + x) * channels;
      const around = ((data[at - reach * channels] ?? 255) + (data[at + reach * channels] ?? 255)) / 2;
      if ((data[at] ?? 255) < around - DARKER) xy.push(x, y);
    }
  }
  return { xy: Int16Array.from(xy), width, height };
}

/** How sharply lines of text stand out when the page is sheared by `degrees`: the sum of squares of the row sums (Postl 1986). */
function sharpness(dots: Dots, degrees: number): number {
  const slope = Math.tan((degrees * Math.PI) / 180);
  const rows = new Float64Array(dots.height + 2 * MEASURED_WIDTH);
  for (let index = 0; index < dots.xy.length; index += 2) {
    const row = Math.round((dots.xy[index + 1] ?? 0) - (dots.xy[index] ?? 0) * slope) + MEASURED_WIDTH;
    rows[row] = (rows[row] ?? 0) + 1;
  }
  return rows.reduce((sum, count) => sum + count * count, 0);
}

/** Degrees by which lines of text fall to the right; 0 where nothing stands out. */
async function skewOf(picture: Picture): Promise<number> {
  const dots = await darkDots(picture);
  if (dots.xy.length < 400) return 0;
  let best = { degrees: 0, value: sharpness(dots, 0) };
  const flat = best.value;
  const look = (from: number, to: number, step: number) => {
    for (let degrees = from; degrees <= to; degrees += step) {
      const value = sharpness(dots, degrees);
      if (value > best.value) best = { degrees, value };
    }
  };
  look(-MOST_SKEW, MOST_SKEW, 0.5);
  look(best.degrees - 0.4, best.degrees + 0.4, 0.1);
  return best.value > flat * 1.02 ? best.degrees : 0;
}

/** The background is estimated on a picture this many times smaller. */
const PAPER_SCALE = 8;

/** Divide the picture by its own background, so that shadows, stains and grey paper become white. */
async function evenLight(picture: Picture): Promise<Picture> {
  const { width, height } = picture;
  const { data, info } = await open(picture).resize({ width: Math.max(24, Math.round(width / PAPER_SCALE)) }).toColourspace('b-w').raw().toBuffer({ resolveWithObject: true });
  const raw = { width: info.width, height: info.height, channels: 1 as const };
  const paper = await sharp(Buffer.from(paperOf(data, info)), { raw }).blur(1.5).resize({ width, height, fit: 'fill', kernel: 'linear' }).toColourspace('b-w').raw().toBuffer();
  const dots = Buffer.allocUnsafe(width * height);
  for (let at = 0; at < dots.length; at += 1) dots[at] = Math.min(255, ((picture.dots[at] ?? 255) * 255) / Math.max(1, (paper[at] ?? 255) - PAPER_GRAIN));
  return { ...picture, dots };
}

/** Grain of the paper that becomes white too, in steps of grey. */
const PAPER_GRAIN = 6;

/** The brightest of the neighbourhood of each dot: what the paper is like under the letters. */
function paperOf(data: Buffer, info: { readonly width: number; readonly height: number; readonly channels: number }): Uint8Array {
  const reach = 3;
  const across = new Uint8Array(info.width * info.height);
  const both = new Uint8Array(info.width * info.height);
  const brightest = (from: (index: number) => number, at: number, most: number): number => {
    let best = 0;
    for (let near = Math.max(0, at - reach); near <= Math.min(most - 1, at + reach); near += 1) best = Math.max(best, from(near));
    return best;
  };
  for (let y = 0; y < info.height; y += 1) for (let x = 0; x < info.width; x += 1) across[y * info.width + x] = brightest((near) => data[(y * info.width + near) * info.channels] ?? 255, x, info.width);
  for (let y = 0; y < info.height; y += 1) for (let x = 0; x < info.width; x += 1) both[y * info.width + x] = brightest((near) => across[near * info.width + x] ?? 255, y, info.height);
  return both;
}

/** Dots darker than this stand out from paper that has been evened out. */
const SPECK_DARK = 128;

/** Dark dots without a dark neighbour are dust; a full stop has several dots. */
function withoutSpecks(picture: Picture): Picture {
  const { width, height, dots: from } = picture;
  const dots = Buffer.from(from);
  const around = [-width - 1, -width, -width + 1, -1, 1, width - 1, width, width + 1];
  for (let at = width + 1; at < width * (height - 1) - 1; at += 1) {
    if ((from[at] ?? 255) < SPECK_DARK && around.filter((step) => (from[at + step] ?? 255) < SPECK_DARK).length === 0) dots[at] = 255;
  }
  return { ...picture, dots };
}

/** A dark dot for the purpose of finding ruled lines. */
const RULE_DARK = 214;
/** Letters are lower than this, inches; a longer straight run is a ruled line. */
const RULE_INCHES = { down: 0.3, across: 0.55 } as const;
/** Light dots that do not end a run: ruled lines are rarely printed without a gap. */
const RULE_GAP = 2;

/** Without ruled lines, which a recogniser takes for letters, and which keep it from seeing the letters beside them. */
export function withoutRules(picture: Picture): Picture {
  const { width, height, dpi } = picture;
  const dots = Buffer.from(picture.dots);
  const wipe = (count: number, length: number, at: (run: number, step: number) => number, least: number, side: number) => {
    for (let run = 0; run < count; run += 1) {
      let [start, last] = [-1, -1];
      for (let step = 0; step <= length; step += 1) {
        const dark = step < length && (picture.dots[at(run, step)] ?? 255) < RULE_DARK;
        if (dark) {
          if (start < 0) start = step;
          last = step;
        } else if (start >= 0 && (step - last > RULE_GAP || step === length)) {
          if (last - start >= least) for (let each = start; each <= last; each += 1) for (let beside = -2; beside <= 2; beside += 1) dots[at(run, each) + beside * side] = 255;
          start = -1;
        }
      }
    }
  };
  wipe(width, height, (x, y) => y * width + x, RULE_INCHES.down * dpi, 1);
  wipe(height, width, (y, x) => y * width + x, RULE_INCHES.across * dpi, width);
  return { ...picture, dots };
}

/** Without ruled lines, and at a resolution that the recogniser likes. */
export async function forRecognition(page: Picture): Promise<Picture> {
  const picture = withoutRules(page);
  const factor = picture.dpi < RECOGNITION_DPI.least ? RECOGNITION_DPI.good / picture.dpi : picture.dpi > RECOGNITION_DPI.most ? RECOGNITION_DPI.most / picture.dpi : 1;
  if (factor === 1) return picture;
  return close(open(picture).resize({ width: Math.round(picture.width * factor), kernel: factor > 1 ? 'cubic' : 'lanczos3' }), picture.dpi * factor);
}
