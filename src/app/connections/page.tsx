import type { Metadata } from 'next';
import { Connections } from '@/ui/connections/Connections';

export const metadata: Metadata = { title: 'Connections' };

export default function Page() {
  return <Connections />;
}
