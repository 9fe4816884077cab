import type { ReactNode } from 'react';
import { SongFrame } from '@/shell/SongFrame';
import { Balance } from '@/stages/balance/Balance';
import { Deliver } from '@/stages/deliver/Deliver';
import { Gather } from '@/stages/gather/Gather';
import { Shape } from '@/stages/shape/Shape';
import { Weave } from '@/stages/weave/Weave';

export default async function SongLayout({
  children,
  params,
}: {
  children: ReactNode;
  params: Promise<{ id: string }>;
}) {
  const { id } = await params;
  const stages = {
    gather: <Gather />,
    shape: <Shape />,
    weave: <Weave />,
    balance: <Balance />,
    deliver: <Deliver />,
  };
  return (
    <SongFrame id={decoded(id)} stages={stages}>
      {children}
    </SongFrame>
  );
}

/** Names in addresses may be anything; what cannot be decoded is taken as it is. */
function decoded(id: string): string {
  try {
    return decodeURIComponent(id);
  } catch {
    return id;
  }
}
