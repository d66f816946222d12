import type { Metadata } from 'next';
import { WorkbenchRoom } from '@/ui/kinds/Workbench';

export const metadata: Metadata = { title: 'Kind' };

export default async function Page({ params }: { readonly params: Promise<{ readonly key: string }> }) {
  return <WorkbenchRoom kindKey={(await params).key} />;
}
