/** Bytes of a file for people, in powers of two as files are counted. */
export function size(bytes: number): string {
  const kib = bytes / 1024;
  if (kib < 1) {
    return `${bytes} bytes`;
  }
  return kib < 1024 ? `${Math.round(kib)} KiB` : `${(kib / 1024).toFixed(1)} MiB`;
}
