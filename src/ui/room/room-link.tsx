import Link from 'next/link';

export function RoomLink({ filmId, name }: { readonly filmId: string; readonly name: string }) {
  return (
    <Link href={`/films/${filmId}`} className="truncate hover:underline">
      {name}
    </Link>
  );
}
