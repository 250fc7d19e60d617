import { Download } from 'lucide-react';
import { linkButton } from './parts';

/** Where a sheet of what a list is asked for is; it has all that matches, whatever is selected. */
export function sheetAt(path: string, asked: Record<string, unknown> = {}): string {
  const query = new URLSearchParams();
  Object.entries(asked).forEach(([name, value]) =>
    [value].flat().forEach((v) => v && query.append(name, String(v))),
  );
  return `/api/v1${path}${query.size > 0 ? `?${query}` : ''}`;
}

/** Fetches a sheet. */
export function SheetLink(props: {
  path: string;
  asked?: Record<string, unknown>;
  name: string;
  title?: string;
  className?: string;
}) {
  return (
    <a
      href={sheetAt(props.path, props.asked)}
      download={props.name}
      title={props.title}
      className={`${linkButton} ${props.className ?? ''}`}
    >
      <Download className="size-4" /> Sheet
    </a>
  );
}
