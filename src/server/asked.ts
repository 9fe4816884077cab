import { isIP } from 'node:net';

/** Heads of every answer: nothing is guessed, framed, or told to other servers. */
export const HEADERS: readonly { key: string; value: string }[] = [
  { key: 'X-Content-Type-Options', value: 'nosniff' },
  { key: 'X-Frame-Options', value: 'DENY' },
  { key: 'Referrer-Policy', value: 'no-referrer' },
  { key: 'Cross-Origin-Opener-Policy', value: 'same-origin' },
];

/** Methods that are answered: this server keeps nothing that could be written. */
const METHODS = ['GET', 'HEAD'];

/** The head of a request. */
export interface Asked {
  method?: string;
  url?: string;
  headers: { host?: string };
}

export interface Refusal {
  status: number;
  text: string;
  headers?: Readonly<Record<string, string>>;
}

/**
 * Why a request is not answered; undefined where it is. A page of elsewhere could have its own name lead to this
 * machine and read what is here: only names that this server goes by are answered, and plain addresses, which no
 * name can lead to.
 * @param names by which this server goes besides `localhost`
 */
export function refusalOf(
  { method, url, headers }: Asked,
  names: readonly string[],
): Refusal | undefined {
  if (!METHODS.includes(method ?? '')) {
    return {
      status: 405,
      text: `This server answers ${METHODS.join(' and ')} only.`,
      headers: { Allow: METHODS.join(', ') },
    };
  }
  if (!url?.startsWith('/')) return { status: 404, text: 'There is nothing at this address.' };
  const name = nameOf(headers.host);
  if (name === undefined || !(isIP(name) || isLocal(name) || names.includes(name))) {
    return {
      status: 421,
      text: `This server does not go by “${(headers.host ?? '').slice(0, 100)}”. Open it as localhost or by its address, or start it with HOSTS set to its names.`,
    };
  }
  return undefined;
}

const isLocal = (name: string) => name === 'localhost' || name.endsWith('.localhost');

/** The name in a Host header, without its port; undefined where it is none. */
function nameOf(host = ''): string | undefined {
  const found = /^(?:\[([0-9a-f:.]+)\]|([^:[\]/@\s]+))(?::\d+)?$/i.exec(host);
  return (found?.[1] ?? found?.[2])?.toLowerCase();
}
