import { notFound } from 'next/navigation';
import type { ComponentType } from 'react';
import { Balance } from '@/stages/balance/Balance';
import { Deliver } from '@/stages/deliver/Deliver';
import { Gather } from '@/stages/gather/Gather';
import { Shape } from '@/stages/shape/Shape';
import { Weave } from '@/stages/weave/Weave';

const VIEWS: Record<string, ComponentType> = {
  gather: Gather,
  shape: Shape,
  weave: Weave,
  balance: Balance,
  deliver: Deliver,
};

export default async function StagePage({ params }: { params: Promise<{ stage: string }> }) {
  const { stage } = await params;
  const View = Object.hasOwn(VIEWS, stage) ? VIEWS[stage] : notFound();
  return <View />;
}
