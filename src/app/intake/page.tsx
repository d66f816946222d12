import type { Metadata } from 'next';
import { Intake } from '@/ui/intake/Intake';

export const metadata: Metadata = { title: 'Intake' };

export default function Page() {
  return <Intake />;
}
