import type { Metadata } from 'next';
import { Batches } from '@/ui/batches/Batches';

export const metadata: Metadata = { title: 'Batches' };

export default function Page() {
  return <Batches />;
}
