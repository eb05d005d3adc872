import type { AnchorHTMLAttributes } from 'react';
import { demandDownload } from './client.js';
import { useNotices } from '../ui/Notices.js';

/** Gives a function that fetches a file of the server, and says in a sentence why it can't be had where it can't. */
export function useDownload(): (address: string) => void {
  const { complain } = useNotices();
  return (address) => {
    demandDownload(address).then(() => window.location.assign(address), complain);
  };
}

/** A link to a file of the server. */
export function DownloadLink({
  href,
  ...rest
}: AnchorHTMLAttributes<HTMLAnchorElement> & { readonly href: string }) {
  const download = useDownload();
  return (
    <a
      {...rest}
      href={href}
      download
      onClick={(event) => {
        event.preventDefault();
        download(href);
      }}
    />
  );
}
