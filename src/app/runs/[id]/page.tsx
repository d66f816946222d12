import type { Metadata } from 'next';
import { Run } from '@/ui/runs/Run';

export const metadata: Metadata = { title: 'Run' };

export default async function Page({ params }: { readonly params: Promise<{ readonly id: string }> }) {
  return <Run id={(await params).id} />;
}
