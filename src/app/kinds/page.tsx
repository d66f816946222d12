import type { Metadata } from 'next';
import { Kinds } from '@/ui/kinds/Kinds';

export const metadata: Metadata = { title: 'Kinds' };

export default function Page() {
  return <Kinds />;
}
