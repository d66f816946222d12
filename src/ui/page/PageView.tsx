'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useEffect, useRef, useState, type PointerEvent } from 'react';
import { unionOf, type Box as PageBox, type PageOrigin, type Place, type Word } from '@/core/page/page';

/** Something outlined on the page: a value (solid, with a corner tick), its landmark (dotted underline) or a table column (hairlines). */
export interface PageMark {
  readonly key: string;
  readonly place: Place;
  readonly kind: 'value' | 'anchor' | 'column';
  readonly active?: boolean;
  readonly label?: string;
}

export interface SheetOfPaper {
  readonly number: number;
  readonly width: number;
  readonly height: number;
  readonly words?: readonly Word[];
  readonly origin?: PageOrigin;
}

interface Props {
  /** Where its pictures are: `/documents/ID` or `/samples/ID`. */
  readonly paper: string;
  readonly pages: readonly SheetOfPaper[];
  readonly marks: readonly PageMark[];
  /** A word was clicked, or words were dragged over: what stands there. */
  readonly onPick?: (pick: { readonly page: number; readonly box: PageBox; readonly words: readonly Word[] }) => void;
  readonly onMark?: (key: string) => void;
}

/** Pages below one another, in page space, with everything that has a place outlined on them. Scrolls to what is active. */
export function PageView({ paper, pages, marks, onPick, onMark }: Props) {
  return (
    <Box sx={{ display: 'flex', flexDirection: 'column', gap: 2, p: 2, alignItems: 'center' }}>
      {pages.map((page) => <Sheet key={page.number} paper={paper} page={page} marks={marks.filter((mark) => mark.place.page === page.number)} onPick={onPick} onMark={onMark} of={pages.length} />)}
    </Box>
  );
}

type SheetProps = Omit<Props, 'pages' | 'onPick' | 'onMark'> & { readonly page: SheetOfPaper; readonly of: number; readonly onPick: Props['onPick']; readonly onMark: Props['onMark'] };

function Sheet({ paper, page, marks, onPick, onMark, of }: SheetProps) {
  const frame = useRef<SVGSVGElement>(null);
  const [came, setCame] = useState(false);
  const drag = useDrag(page, frame, onPick);
  const active = marks.find((mark) => mark.active && mark.kind === 'value');
  const target = active ? `${active.key}:${active.place.box.join()}` : null;
  useEffect(() => {
    if (target !== null) frame.current?.querySelector('[data-active="true"]')?.scrollIntoView({ block: 'center', inline: 'nearest', behavior: matchMedia('(prefers-reduced-motion: reduce)').matches ? 'auto' : 'smooth' });
  }, [target]);
  return (
    <Box component="figure" sx={{ m: 0, width: '100%', maxWidth: 900 }}>
      <Box sx={{ position: 'relative', aspectRatio: `${page.width} / ${page.height}`, bgcolor: '#fff', border: 1, borderColor: 'divider', '[data-scheme="dark"] &': { filter: 'brightness(0.92)' } }}>
        <PagePicture key={String(came)} src={pictureOf(paper, page.number, came ? 'came' : 'read')} alt={`Page ${page.number} of ${of}${came ? ', as it came' : ''}`} />
        <Box component="svg" ref={frame} viewBox={`0 0 ${page.width} ${page.height}`} {...drag.handlers} sx={{ position: 'absolute', inset: 0, width: '100%', height: '100%', cursor: onPick ? 'crosshair' : 'default', touchAction: onPick ? 'none' : 'auto', color: '#0F4C58' }}>
          {!came && marks.map((mark) => <Outline key={`${mark.kind}-${mark.key}`} mark={mark} onMark={onMark} />)}
          {drag.gathered.map((word) => <rect key={word.box.join()} x={word.box[0] - 1} y={word.box[1] - 1} width={word.box[2] - word.box[0] + 2} height={word.box[3] - word.box[1] + 2} fill="#0F4C58" fillOpacity="0.12" stroke="#0F4C58" strokeWidth="1" />)}
          {drag.box && <rect x={drag.box[0]} y={drag.box[1]} width={drag.box[2] - drag.box[0]} height={drag.box[3] - drag.box[1]} fill="#0F4C58" fillOpacity="0.1" stroke="#0F4C58" strokeDasharray="3 2" />}
        </Box>
      </Box>
      <Box component="figcaption" sx={{ fontSize: 12, color: 'text.secondary', pt: 0.5, display: 'flex', gap: 1.5, alignItems: 'center' }}>
        {of > 1 && `Page ${page.number} of ${of}`}
        {page.origin === 'picture' && <Button aria-pressed={came} onClick={() => setCame(!came)} sx={{ minHeight: 22, py: 0, px: 0.75, fontSize: 12 }}>{came ? 'Show it as it was cleaned and read' : 'Show it as it came'}</Button>}
      </Box>
    </Box>
  );
}

export const pictureOf = (paper: string, page: number, stage: 'read' | 'came' = 'read'): string => `/api/v1${paper}/pages/${page}/picture${stage === 'came' ? '?stage=came' : ''}`;

/** The picture of a page; says so while it is drawn for the first time, and when it cannot be. */
function PagePicture({ src, alt }: { readonly src: string; readonly alt: string }) {
  const [state, setState] = useState<'coming' | 'there' | 'failed'>('coming');
  // A picture from the cache may be there before the page listens for it.
  const seen = (picture: HTMLImageElement | null) => {
    if (picture?.complete && picture.naturalWidth > 0 && state === 'coming') setState('there');
  };
  return (
    <>
      {state !== 'there' && <Box role="status" sx={{ position: 'absolute', inset: 0, display: 'grid', placeItems: 'start center', pt: 12, color: '#5E6A6C' }}>{state === 'coming' ? 'Drawing the page …' : 'This page cannot be drawn; its values can still be read and corrected.'}</Box>}
      {/* eslint-disable-next-line @next/next/no-img-element -- drawn by our own server in the size it is needed */}
      <img ref={seen} src={src} alt={alt} draggable={false} onLoad={() => setState('there')} onError={() => setState('failed')} style={{ position: 'absolute', inset: 0, width: '100%', height: '100%', objectFit: 'contain', visibility: state === 'failed' ? 'hidden' : 'visible' }} />
    </>
  );
}

/** Points around a box, so that the outline does not touch the letters. */
const PAD = 2;

function Outline({ mark, onMark }: { readonly mark: PageMark; readonly onMark: Props['onMark'] }) {
  const [x0, y0, x1, y1] = mark.place.box;
  if (mark.kind === 'anchor') return <path d={`M${x0} ${y1 + 1.5}H${x1}`} stroke="currentColor" strokeWidth={mark.active ? 1.8 : 1.1} strokeDasharray="1.2 2" />;
  if (mark.kind === 'column') {
    return (
      <g stroke="currentColor" strokeWidth="0.5" strokeOpacity="0.75">
        <path d={`M${x0} ${y0 - 9}V${y1 + 4}M${x1} ${y0 - 9}V${y1 + 4}`} />
        <text x={x0 + 2} y={y0 - 4} fontSize="6.5" fill="currentColor" stroke="none" fontFamily="inherit">{mark.label}</text>
      </g>
    );
  }
  return (
    <g data-active={mark.active ?? false} onClick={() => onMark?.(mark.key)} style={{ cursor: onMark ? 'pointer' : undefined }}>
      <rect x={x0 - PAD} y={y0 - PAD} width={x1 - x0 + 2 * PAD} height={y1 - y0 + 2 * PAD} fill="transparent" stroke="currentColor" strokeWidth={mark.active ? 2 : 0.9} strokeOpacity={mark.active ? 1 : 0.7} />
      <path d={`M${x0 - PAD} ${y0 - PAD + 6}V${y0 - PAD}h6`} fill="none" stroke="currentColor" strokeWidth={mark.active ? 3.6 : 2.2} />
      {mark.label && <title>{mark.label}</title>}
    </g>
  );
}

/** A drag shorter than this is a click, in points. */
const CLICK = 3;

function useDrag(page: SheetOfPaper, frame: React.RefObject<SVGSVGElement | null>, onPick: Props['onPick']) {
  const [start, setStart] = useState<readonly [number, number] | null>(null);
  const [end, setEnd] = useState<readonly [number, number] | null>(null);
  const at = (event: PointerEvent): readonly [number, number] => {
    const edges = frame.current?.getBoundingClientRect();
    return edges ? [((event.clientX - edges.left) / edges.width) * page.width, ((event.clientY - edges.top) / edges.height) * page.height] : [0, 0];
  };
  const box: PageBox | null = start && end ? [Math.min(start[0], end[0]), Math.min(start[1], end[1]), Math.max(start[0], end[0]), Math.max(start[1], end[1])] : null;
  const [gathered, setGathered] = useState<readonly Word[]>([]);
  useEffect(() => {
    if (gathered.length === 0 || !onPick) return;
    const release = (event: KeyboardEvent) => {
      if (event.key !== 'Shift') return;
      setGathered([]);
      onPick({ page: page.number, box: unionOf(gathered.map((word) => word.box)), words: gathered });
    };
    window.addEventListener('keyup', release);
    return () => window.removeEventListener('keyup', release);
  }, [gathered, onPick, page.number]);
  const isDrag = box !== null && (box[2] - box[0] > CLICK || box[3] - box[1] > CLICK);
  /** With Shift held, words are gathered one by one and taken together when it is let go. */
  const finish = (event: PointerEvent) => {
    if (box && onPick) {
      const words = (page.words ?? []).filter(({ box: word }) => (isDrag ? touches(word, box) : holds(word, box)));
      if (event.shiftKey) setGathered((before) => [...before, ...words.filter((word) => !before.includes(word))]);
      else if (words.length > 0 || isDrag) onPick({ page: page.number, box, words: isDrag ? words : words.slice(0, 1) });
    }
    setStart(null);
    setEnd(null);
  };
  const handlers = onPick
    ? {
        onPointerDown: (event: PointerEvent<SVGSVGElement>) => {
          if (event.button !== 0) return;
          event.currentTarget.setPointerCapture(event.pointerId);
          setStart(at(event));
          setEnd(at(event));
        },
        onPointerMove: (event: PointerEvent) => start && setEnd(at(event)),
        onPointerUp: finish,
      }
    : {};
  return { box: isDrag ? box : null, gathered, handlers };
}

const holds = (word: PageBox, point: PageBox): boolean => point[0] >= word[0] - 1 && point[0] <= word[2] + 1 && point[1] >= word[1] - 1 && point[1] <= word[3] + 1;

/** Half of a word's height and any of its width is enough to mean it. */
function touches(word: PageBox, box: PageBox): boolean {
  const middle = (word[1] + word[3]) / 2;
  return middle >= box[1] && middle <= box[3] && Math.min(word[2], box[2]) - Math.max(word[0], box[0]) > 0.3 * (word[2] - word[0]);
}
