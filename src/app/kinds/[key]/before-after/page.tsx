import type { Metadata } from 'next';
import { BeforeAfterRoom } from '@/ui/kinds/BeforeAfterRoom';

export const metadata: Metadata = { title: 'Before and after' };

export default async function Page({ params }: { readonly params: Promise<{ readonly key: string }> }) {
  return <BeforeAfterRoom kindKey={(await params).key} />;
}
