import Box from '@mui/material/Box';
import { onSameLine, type Place } from '@/core/page/page';
import { pictureOf } from './PageView';

/** Points shown around the value, to the sides and above and below. */
const AROUND = { x: 46, y: 5 };

/** A cut from the page around a place, enlarged to the width given, in pixels. */
export function Crop({ paper, place, anchor, page, width, mostHeight = 64 }: { readonly paper: string; readonly place: Place; /** The landmark; shown too when it stands on the same line and fits. */ readonly anchor: Place | null; readonly page: { readonly width: number; readonly height: number }; readonly width: number; readonly mostHeight?: number }) {
  const [x0, y0, x1, y1] = place.box;
  const span = withAnchor(place, anchor);
  const scale = Math.min(2.6, Math.max(1.1, width / (span[1] - span[0] + 2 * AROUND.x)), mostHeight / (y1 - y0 + 2 * AROUND.y));
  const view = { width: width / scale, height: y1 - y0 + 2 * AROUND.y };
  const left = Math.max(0, Math.min(page.width - view.width, (span[0] + span[1]) / 2 - view.width / 2));
  const top = Math.max(0, y0 - AROUND.y);
  return (
    <Box aria-hidden sx={{ width, height: view.height * scale, position: 'relative', overflow: 'hidden', bgcolor: '#fff', border: 1, borderColor: 'divider', borderRadius: '2px' }}>
      <Box sx={{ position: 'absolute', inset: 0, backgroundImage: `url(${pictureOf(paper, place.page)})`, backgroundSize: `${page.width * scale}px ${page.height * scale}px`, backgroundPosition: `${-left * scale}px ${-top * scale}px` }} />
      <Box sx={{ position: 'absolute', left: (x0 - left) * scale - 3, top: (y0 - top) * scale - 2, width: (x1 - x0) * scale + 6, height: (y1 - y0) * scale + 4, border: '1.5px solid #0F4C58' }} />
    </Box>
  );
}

/** From the landmark to the value, where both stand on one line and not too far apart to be read together. */
function withAnchor(place: Place, anchor: Place | null): readonly [number, number] {
  const [x0, , x1] = place.box;
  if (!anchor || anchor.page !== place.page || !onSameLine(anchor.box, place.box) || x0 - anchor.box[0] > 330) return [x0, x1];
  return [Math.min(x0, anchor.box[0]), Math.max(x1, anchor.box[2])];
}
