import { useEffect, useRef, useState } from 'react';

/** A kept picture shown as it is. @param print what is shown instead when the browser cannot read such a file by itself */
export function BlobImage({ blob, className, print }: { blob: Blob; className?: string; print?: () => Promise<Blob | undefined> }) {
  const image = useRef<HTMLImageElement>(null);
  const [made, setMade] = useState<{ of: Blob; print: Blob }>();
  const shown = made?.of === blob ? made.print : blob;
  useEffect(() => {
    const url = URL.createObjectURL(shown);
    if (image.current) image.current.src = url;
    return () => URL.revokeObjectURL(url);
  }, [shown]);
  const failed = (): void => {
    if (shown === blob) void print?.().then((found) => found && setMade({ of: blob, print: found }), () => undefined); // prettier-ignore
  };
  return <img ref={image} alt="" className={className} onError={failed} />;
}
