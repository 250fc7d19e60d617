import { BookOpen, FileBadge, FileTerminal, Package, Type } from 'lucide-react';
import { contentOf, type StoredFile } from './files';

const marks = {
  certificate: FileBadge,
  font: Type,
  document: BookOpen,
  script: FileTerminal,
  package: Package,
};

/** A file at a glance: a picture is its own mark. */
export function FileMark({ file, large }: { file: StoredFile; large?: boolean }) {
  if (file.kind === 'picture') {
    return (
      <img
        src={contentOf(file.id)}
        alt=""
        loading="lazy"
        className={
          large ? 'border-line max-h-72 max-w-full border' : 'border-line size-6 border object-cover'
        }
      />
    );
  }
  const Mark = marks[file.kind];
  return <Mark className={large ? 'text-slate size-10' : 'text-slate size-6 p-0.5'} aria-hidden />;
}
