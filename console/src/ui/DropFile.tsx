import { Upload } from 'lucide-react';
import { useState } from 'react';
import { size } from './size';

/** Where a file is dropped, or chosen. */
export function DropFile({
  thing,
  file,
  accept,
  hint,
  onTake,
}: {
  /** What it is to be, with a small letter: "file", "package". */
  thing: string;
  file?: File;
  /** Endings that are offered, where only some are of use. */
  accept?: string;
  /** What it has to be like. */
  hint?: string;
  onTake: (file?: File) => void;
}) {
  const [over, setOver] = useState(false);
  return (
    <label
      className={`block cursor-pointer rounded-[3px] border border-dashed px-4 py-7 text-center text-sm ${over ? 'border-brass bg-raised' : 'border-line'}`}
      onDragOver={(e) => {
        e.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(e) => {
        e.preventDefault();
        setOver(false);
        onTake(e.dataTransfer.files[0]);
      }}
    >
      <Upload className="text-brass mx-auto mb-2 size-5" aria-hidden />
      {file ? (
        <>
          <span className="font-semibold">{file.name}</span>, {size(file.size)}
        </>
      ) : (
        <>
          Drop a {thing} here, or <span className="text-brass underline">choose one</span>
        </>
      )}
      {hint && <span className="text-quiet mt-1 block text-xs">{hint}</span>}
      <input
        type="file"
        className="sr-only"
        aria-label={thing[0]!.toUpperCase() + thing.slice(1)}
        accept={accept}
        onChange={(e) => onTake(e.target.files?.[0])}
      />
    </label>
  );
}
