/** A job's name as that of a file. */
export function fileNameOf(name: string): string {
  return name.replace(/[\\/:*?"<>|]+/g, '-').trim() || 'picture';
}

/** Hands a file to the browser’s downloads. */
export function save(name: string, blob: Blob): void {
  const url = URL.createObjectURL(blob);
  const link = document.createElement('a');
  link.href = url;
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(url), 60_000);
}
