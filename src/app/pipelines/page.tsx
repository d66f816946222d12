import type { Metadata } from 'next';
import { Pipelines } from '@/ui/pipelines/Pipelines';

export const metadata: Metadata = { title: 'Pipelines' };

export default function Page() {
  return <Pipelines />;
}
