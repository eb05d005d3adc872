import { msg } from '@oiseau/messages';
import type { Request, RequestHandler } from 'express';
import { ApiError } from './api-error.js';

/** What the server is called beyond the loopback names. */
export interface OwnNames {
  /** Hosts with their port, where it is not the usual one, in lower case. */
  readonly hosts: ReadonlySet<string>;
  /** Origins of pages that are ours beside `http://HOST`: the address behind a proxy. */
  readonly origins: ReadonlySet<string>;
}

const LOOPBACK = ['127.0.0.1', 'localhost', '[::1]'];
const SAFE = ['GET', 'HEAD'];
const METHODS = [...SAFE, 'POST', 'PUT', 'PATCH', 'DELETE'];
/** Who may ask for more than to look, as browsers say it. */
const OWN_SITES = ['same-origin', 'none'];

/**
 * The first of all: a request must name us as its host, so that a page whose name was bound to this machine reads nothing; and who asks for
 * more than to look must be a page of ours, or no page at all.
 * @throws ApiError 421, 405, 403
 */
export function guard({ hosts, origins }: OwnNames): RequestHandler {
  return (request, response, next) => {
    const host = (request.headers.host ?? '').toLowerCase();
    const named = hosts.has(host);
    if (!named && !ownAddresses(request).includes(host))
      throw new ApiError(421, msg('This server doesn’t answer to that host name.'));
    if (!METHODS.includes(request.method)) throw new ApiError(405, msg('This method isn’t allowed here.'));
    if (!SAFE.includes(request.method)) {
      const { origin, 'sec-fetch-site': site } = request.headers;
      const ours = origin === undefined || origins.has(origin) || (!named && origin === `http://${host}`);
      if (!ours || (site !== undefined && !OWN_SITES.includes(String(site))))
        throw new ApiError(403, msg('Only Oiseau’s own pages may request this.'));
      demandIntent(request);
    }
    if (origins.has(`https://${host}`)) byTls.add(request);
    if (isSecure(request)) response.set('Strict-Transport-Security', 'max-age=31536000');
    next();
  };
}

/** Whether who asks has come by TLS: at a proxy whose word is believed, or by the address that is ours there. */
export const isSecure = (request: Request): boolean => request.secure || byTls.has(request);
const byTls = new WeakSet<Request>();

/** A numeric address can't be rebound by a foreign DNS server: the loopback ones, and the one that the request has reached. */
function ownAddresses({ socket }: Request): string[] {
  const { localPort: port = 0, localAddress = '' } = socket;
  const address = localAddress.replace(/^::ffff:/, '');
  const names = [...LOOPBACK, address.includes(':') ? `[${address}]` : address];
  return names.flatMap((name) => (port === 80 ? [name, `${name}:80`] : [`${name}:${port}`]));
}

/** A form that another page sends by itself can set none of these. */
function demandIntent(request: Request): void {
  const { headers } = request;
  const type = /^[^;\s]*/.exec(headers['content-type'] ?? '')?.[0].toLowerCase() ?? '';
  const plain = ['', 'text/plain', 'multipart/form-data', 'application/x-www-form-urlencoded'].includes(type);
  if (plain && !headers.authorization && !headers['x-oiseau'] && !headers['tus-resumable'])
    throw new ApiError(
      403,
      msg('Send a Content-Type, or the header X-Oiseau, with requests that change something.'),
    );
}
