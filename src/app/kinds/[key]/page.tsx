import type { Metadata } from 'next';
import { Kind } from '@/ui/kinds/Kind';

export const metadata: Metadata = { title: 'Kind' };

export default async function Page({ params }: { readonly params: Promise<{ readonly key: string }> }) {
  return <Kind kindKey={(await params).key} />;
}
