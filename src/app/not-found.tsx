import Link from 'next/link';
import { Empty } from '@/ui/frame/Room';

export default function NotFound() {
  return <Empty title="There is nothing at this address">Perhaps it was typed by hand, or what it led to is gone. <Link href="/intake">To Intake</Link></Empty>;
}
