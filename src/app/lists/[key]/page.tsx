import type { Metadata } from 'next';
import { ListRows } from '@/ui/lists/ListRows';

export const metadata: Metadata = { title: 'List' };

export default async function Page({ params }: { readonly params: Promise<{ readonly key: string }> }) {
  return <ListRows listKey={(await params).key} />;
}
