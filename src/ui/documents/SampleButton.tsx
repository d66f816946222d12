'use client';
import Button from '@mui/material/Button';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { useQuery } from '@tanstack/react-query';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import type { KindListing } from '@/contracts/workbench';
import { ask, post } from '../api';
import { useNotices } from '../frame/Notices';

/** Make a sample of a live document; of its own kind at once, otherwise of one that is chosen. */
export function SampleButton({ documentId, kind, stay = false }: { readonly documentId: string; readonly kind: string | null; /** Somebody is at work here: the kind is not opened. */ readonly stay?: boolean }) {
  const [menu, setMenu] = useState<HTMLElement | null>(null);
  const { data: kinds } = useQuery({ queryKey: ['workbench'], queryFn: () => ask<KindListing[]>('/workbench'), enabled: menu !== null });
  const { tell, warn } = useNotices();
  const router = useRouter();
  const add = (key: string) => {
    setMenu(null);
    void post(`/kinds/${key}/samples/from/${documentId}`).then(() => { tell(stay ? 'It is a sample now.' : 'It is a sample now. Confirm its values there.'); if (!stay) router.push(`/kinds/${key}`); }, warn);
  };
  return (
    <>
      <Button variant="outlined" onClick={(event) => (kind ? add(kind) : setMenu(event.currentTarget))}>Make it a sample</Button>
      <Menu anchorEl={menu} open={menu !== null} onClose={() => setMenu(null)}>{kinds?.map((listing) => <MenuItem key={listing.key} onClick={() => add(listing.key)}>of {listing.name}</MenuItem>)}</Menu>
    </>
  );
}
