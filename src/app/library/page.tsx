import { LibraryScreen } from '@/ui/library/Library';

export default function Page() {
  return <LibraryScreen />;
}
