import type { Metadata } from 'next';
import { Batch } from '@/ui/batches/Batch';

export const metadata: Metadata = { title: 'Batch' };

export default async function Page({ params }: { readonly params: Promise<{ readonly id: string }> }) {
  return <Batch id={(await params).id} />;
}
