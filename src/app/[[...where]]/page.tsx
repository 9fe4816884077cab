import { cookies } from 'next/headers';
import { notFound } from 'next/navigation';
import { addressOf } from '@/state/addresses';
import { firstSongs } from '@/state/session/firstSongs';
import { BEEN_HERE } from '@/state/session/firstVisit';
import { Pages } from './Pages';

const NONE: readonly never[] = [];

/**
 * Every address of the workbench is one page: what is on it follows the address in the browser, so that
 * going from one to another asks the server for nothing.
 */
export default async function Page({ params }: { params: Promise<{ where?: string[] }> }) {
  const { where = [] } = await params;
  const address = addressOf(`/${where.join('/')}`);
  if (!address) notFound();
  const isFirst = address.page === 'songs' && !(await cookies()).has(BEEN_HERE);
  return <Pages first={isFirst ? firstSongs() : NONE} />;
}
