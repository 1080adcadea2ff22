import Link from 'next/link';

export default function NotFound() {
  return (
    <main className="grid min-h-screen place-items-center">
      <p>
        There is nothing here.{' '}
        <Link className="link" href="/">
          Back to the shelf
        </Link>
      </p>
    </main>
  );
}
