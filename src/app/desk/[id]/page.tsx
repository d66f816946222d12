import type { Metadata } from 'next';
import { Review } from '@/ui/desk/Review';

export const metadata: Metadata = { title: 'Review' };

export default async function Page({ params }: { readonly params: Promise<{ readonly id: string }> }) {
  return <Review id={(await params).id} />;
}
