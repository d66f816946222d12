import type { Metadata } from 'next';
import { NewBatch } from '@/ui/batches/NewBatch';

export const metadata: Metadata = { title: 'New batch' };

export default function Page() {
  return <NewBatch />;
}
