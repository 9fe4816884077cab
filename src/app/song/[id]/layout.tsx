import type { ReactNode } from 'react';
import { SongFrame } from '@/shell/SongFrame';

export default async function SongLayout({
  children,
  params,
}: {
  children: ReactNode;
  params: Promise<{ id: string }>;
}) {
  const { id } = await params;
  return <SongFrame id={decodeURIComponent(id)}>{children}</SongFrame>;
}
