'use client';
import Button from '@mui/material/Button';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { useState } from 'react';
import { post } from '../api';
import { useNotices } from '../frame/Notices';

const SAMPLES = [
  ['bill', 'A bill that adds up'],
  ['bill-wrong', 'A bill with a wrong total'],
  ['bill-discount', 'A bill whose discount is only in its remark'],
  ['bill-smudged', 'A bill with a smudged label'],
  ['bill-file', 'A bill into the watched folder'],
  ['ticket', 'A slip of the weighbridge, scanned'],
  ['power', 'A power statement'],
  ['certificate', 'An ice-water certificate'],
  ['delivery', 'A delivery note'],
  ['e-invoice', 'An e-invoice'],
  ['booking', 'A slip booking by mail text'],
  ['stranger', 'A letter of no known kind'],
  ['mail-without', 'A mail without attachment'],
  ['damaged', 'A mail with a file that is cut off'],
] as const;

/** Demo only: let an invented document arrive now. */
export function SendSample() {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const { tell, warn } = useNotices();
  const send = async (kind: string) => {
    setAnchor(null);
    try {
      const { sent } = await post<{ sent: string }>('/demo/send', { kind });
      tell(`${sent}; it arrives in a moment.`);
    } catch (error) {
      warn(error);
    }
  };
  return (
    <>
      <Button variant="outlined" aria-haspopup="menu" onClick={(event) => setAnchor(event.currentTarget)}>Demo: let one arrive</Button>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)}>
        {SAMPLES.map(([kind, text]) => <MenuItem key={kind} dense onClick={() => void send(kind)}>{text}</MenuItem>)}
      </Menu>
    </>
  );
}
