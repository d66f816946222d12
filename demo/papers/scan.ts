import sharp from 'sharp';
import { drawPdfPage } from '@/digitise/pdf';
import { seededChance } from '@/settings/random';

/** What happens to a page between the printer and us. */
export interface Wear {
  readonly dpi: number;
  /** Degrees, clockwise. */
  readonly skew: number;
  /** Standard deviation of the noise, 0..255. */
  readonly noise: number;
  /** A brownish shadow over part of the page. */
  readonly stain?: boolean;
  /** Quarter turns clockwise. */
  readonly turned?: 0 | 1 | 2 | 3;
  readonly seed: number;
}

/** One page of a PDF as a scanner would give it: a grey JPEG that is crooked and noisy. */
export async function scanPage(pdf: Buffer, page: number, wear: Wear): Promise<Buffer> {
  const drawn = await drawPdfPage(pdf, page, wear.dpi);
  const turned = sharp(drawn).flatten({ background: '#ffffff' }).greyscale();
  const angle = wear.skew + 90 * (wear.turned ?? 0);
  const { data, info } = await turned.rotate(angle, { background: '#f4f4f4' }).raw().toBuffer({ resolveWithObject: true });
  const chance = seededChance(wear.seed + 1);
  const gauss = () => (chance() + chance() + chance() - 1.5) * 2;
  const [centreX, centreY] = [info.width * (0.3 + chance() * 0.4), info.height * (0.2 + chance() * 0.6)];
  for (let index = 0; index < data.length; index += 1) {
    const [x, y] = [index % info.width, Math.floor(index / info.width)];
    const away = Math.hypot((x - centreX) / 1.4, y - centreY) / (info.width * 0.2);
    // Soaked paper is darkest in the middle and has no edge.
    const stain = wear.stain && away < 1 ? 62 * (1 - away * away) : 0;
    data[index] = Math.max(0, Math.min(255, (data[index] ?? 255) * 0.94 - stain + gauss() * wear.noise));
  }
  return sharp(data, { raw: { width: info.width, height: info.height, channels: 1 } }).withMetadata({ density: wear.dpi }).jpeg({ quality: 82 }).toBuffer();
}
