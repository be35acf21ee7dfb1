import { useEffect, useState } from 'react';

/** A kept picture shown as it is. */
export function BlobImage({ blob, className }: { blob: Blob; className?: string }) {
  const [url, setUrl] = useState<string>();
  useEffect(() => {
    const made = URL.createObjectURL(blob);
    setUrl(made);
    return () => URL.revokeObjectURL(made);
  }, [blob]);
  return url ? <img src={url} alt="" className={className} /> : <div className={className} />;
}
