import { Bench } from '@/ui/bench/Bench';

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  return <Bench id={(await params).id} />;
}
