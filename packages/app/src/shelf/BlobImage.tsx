import { useEffect, useRef } from 'react';

/** A kept picture shown as it is. @param print what is shown instead when the browser cannot read such a file by itself */
export function BlobImage({ blob, className, print }: { blob: Blob; className?: string; print?: () => Promise<Blob | undefined> }) {
  const image = useRef<HTMLImageElement>(null);
  const other = useRef(print);
  useEffect(() => {
    other.current = print;
  }, [print]);
  useEffect(() => {
    const urls: string[] = [];
    let gone = false;
    const show = (shown: Blob): void => {
      const url = URL.createObjectURL(shown);
      urls.push(url);
      if (image.current) image.current.src = url;
    };
    const shown = image.current;
    const failed = (): void => void other.current?.().then((made) => made && !gone && show(made), () => undefined); // prettier-ignore
    shown?.addEventListener('error', failed, { once: true });
    show(blob);
    return () => {
      gone = true;
      shown?.removeEventListener('error', failed);
      urls.forEach((url) => URL.revokeObjectURL(url));
    };
  }, [blob]);
  return <img ref={image} alt="" className={className} />;
}
