import type { Metadata } from 'next';
import { DocumentView } from '@/ui/documents/DocumentView';

export const metadata: Metadata = { title: 'Document' };

export default async function Page({ params }: { readonly params: Promise<{ readonly id: string }> }) {
  return <DocumentView id={(await params).id} />;
}
