import Box from '@mui/material/Box';
import type { SentencePart } from '@/core/pipeline/catalogue';

/** A step as a sentence; the parts that can be picked are set apart. */
export function Sentence({ parts }: { readonly parts: readonly SentencePart[] }) {
  return (
    <Box component="span" sx={{ lineHeight: 1.5 }}>
      {parts.map((part, index) => (part.pick ? <Box component="span" key={index} sx={{ fontWeight: 600, borderBottom: 1, borderColor: 'chart.middle' }}>{part.text}</Box> : <span key={index}>{part.text}</span>))}
    </Box>
  );
}
