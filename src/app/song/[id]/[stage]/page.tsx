import { notFound } from 'next/navigation';
import { isStage } from '@/state/routes';

/** The stage itself is drawn by the layout: going from one to another asks the server for nothing. */
export default async function StagePage({ params }: { params: Promise<{ stage: string }> }) {
  if (!isStage((await params).stage)) notFound();
  return null;
}
