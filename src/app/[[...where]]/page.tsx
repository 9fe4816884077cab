import { notFound } from 'next/navigation';
import { addressOf } from '@/state/routes';
import { Pages } from './Pages';

/**
 * Every address of the workbench is one page: what is on it follows the address in the browser, so that
 * going from one to another asks the server for nothing.
 */
export default async function Page({ params }: { params: Promise<{ where?: string[] }> }) {
  const { where = [] } = await params;
  if (!addressOf(`/${where.join('/')}`)) notFound();
  return <Pages />;
}
