import { Builder } from '@/ui/builder/Builder';

export const metadata = { title: 'Change a pipeline' };

export default async function Page({ params }: { readonly params: Promise<{ readonly key: string }> }) {
  return <Builder pipelineKey={(await params).key} />;
}
