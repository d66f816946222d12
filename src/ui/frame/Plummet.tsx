import Box from '@mui/material/Box';

/** The mark of the program: a line with two marks and the lead at its end. */
export function Plummet({ size = 22 }: { readonly size?: number }) {
  return (
    <Box component="svg" viewBox="0 0 22 22" width={size} height={size} aria-hidden sx={{ color: 'chart.deep' }}>
      <path d="M11 0v12" stroke="currentColor" strokeWidth="1.6" />
      <path d="M7.5 3.5h7M8.5 8h5" stroke="currentColor" strokeWidth="1.6" />
      <path d="M11 11.5 14 18a3.2 3.2 0 0 1-6 0Z" fill="currentColor" />
    </Box>
  );
}
