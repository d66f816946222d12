import Box from '@mui/material/Box';
import Tooltip from '@mui/material/Tooltip';
import type { Evidence } from '@/core/reading/reading';

/** How sure: a small depth gauge, filled from the top, with the field's threshold as a notch and the figure beside it. */
export function Gauge({ confidence, threshold, evidence = [], figure = true }: { readonly confidence: number; readonly threshold: number; readonly evidence?: readonly Evidence[]; readonly figure?: boolean }) {
  const [height, width] = [18, 6];
  const short = confidence < threshold;
  const text = (
    <Box>
      {Math.round(confidence * 100)} sure, {Math.round(threshold * 100)} wanted
      {evidence.map((item) => <Box key={item.what} sx={{ opacity: 0.85 }}>{Math.round(item.factor * 100)} · {item.what}</Box>)}
    </Box>
  );
  return (
    <Tooltip title={text}>
      <Box component="span" aria-label={`${Math.round(confidence * 100)} sure, ${Math.round(threshold * 100)} wanted`} role="img" sx={{ display: 'inline-flex', alignItems: 'center', gap: 0.5, color: short ? 'chart.signal' : 'chart.deep', fontSize: 12 }}>
        <svg width={width + 6} height={height} aria-hidden>
          <rect x="3" y="0.5" width={width} height={height - 1} fill="none" stroke="currentColor" strokeOpacity="0.55" />
          <rect x="3" y="0.5" width={width} height={(height - 1) * confidence} fill="currentColor" fillOpacity="0.75" />
          <path d={`M0 ${(height - 1) * threshold + 0.5}h${width + 6}`} stroke="currentColor" strokeWidth="1.2" />
        </svg>
        {figure && Math.round(confidence * 100)}
      </Box>
    </Tooltip>
  );
}
