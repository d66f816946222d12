import type { Metadata } from 'next';
import { Pipeline } from '@/ui/pipelines/Pipeline';

export const metadata: Metadata = { title: 'Pipeline' };

export default async function Page({ params }: { readonly params: Promise<{ readonly key: string }> }) {
  return <Pipeline pipelineKey={(await params).key} />;
}
