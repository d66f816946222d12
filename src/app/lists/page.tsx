import type { Metadata } from 'next';
import { Lists } from '@/ui/lists/Lists';

export const metadata: Metadata = { title: 'Lists' };

export default function Page() {
  return <Lists />;
}
