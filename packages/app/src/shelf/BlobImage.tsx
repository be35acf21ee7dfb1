import { useEffect, useRef } from 'react';

/** A kept picture shown as it is. */
export function BlobImage({ blob, className }: { blob: Blob; className?: string }) {
  const image = useRef<HTMLImageElement>(null);
  useEffect(() => {
    const url = URL.createObjectURL(blob);
    if (image.current) image.current.src = url;
    return () => URL.revokeObjectURL(url);
  }, [blob]);
  return <img ref={image} alt="" className={className} />;
}
