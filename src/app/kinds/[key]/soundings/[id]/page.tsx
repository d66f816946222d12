import type { Metadata } from 'next';
import { SoundingRoom } from '@/ui/kinds/SoundingRoom';

export const metadata: Metadata = { title: 'Sounding' };

export default async function Page({ params }: { readonly params: Promise<{ readonly key: string; readonly id: string }> }) {
  const { key, id } = await params;
  return <SoundingRoom kindKey={key} id={id} />;
}
