import clsx from 'clsx';
import type { ButtonHTMLAttributes, ReactNode } from 'react';
import { words } from '../api/client';
import { moment } from './dates';

type Weight = 'main' | 'plain' | 'danger' | 'bare';

const weights: Record<Weight, string> = {
  main: 'bg-brass text-onbrass border-brass font-semibold hover:brightness-110',
  plain: 'border-line bg-sheet hover:border-slate',
  danger: 'border-rust text-rust bg-sheet hover:bg-rust/10',
  bare: 'border-transparent hover:bg-raised',
};

/** A button; says what it will do. */
export function Button({
  weight = 'plain',
  className,
  ...rest
}: ButtonHTMLAttributes<HTMLButtonElement> & { weight?: Weight }) {
  return (
    <button
      type="button"
      {...rest}
      className={clsx(
        'inline-flex h-8 items-center gap-1.5 rounded-[3px] border px-3 text-sm whitespace-nowrap disabled:opacity-45',
        weights[weight],
        className,
      )}
    />
  );
}

/** A link that looks like a button. */
export const linkButton =
  'border-line bg-sheet hover:border-slate inline-flex h-8 items-center gap-1.5 rounded-[3px] border px-3 text-sm';

/** The card beside a list: what is known of the row at hand. On a phone it lies over the list. */
export const sideCard =
  'border-line bg-sheet flex w-[410px] shrink-0 flex-col overflow-y-auto border-l max-md:fixed max-md:inset-0 max-md:z-20 max-md:w-full max-md:border-0';

/** A labelled field with room for its error. */
export function Labelled({
  label,
  hint,
  error,
  children,
}: {
  label: string;
  hint?: string;
  error?: string;
  children: ReactNode;
}) {
  return (
    <label className="block">
      <span className="label mb-1 block">{label}</span>
      {children}
      {hint && !error && <span className="text-quiet mt-1 block text-xs">{hint}</span>}
      {error && <span className="text-rust mt-1 block text-xs">{error}</span>}
    </label>
  );
}

/** An error with what to do about it. */
export function Trouble({ error }: { error: unknown }) {
  if (!error) {
    return null;
  }
  return (
    <p role="alert" className="border-rust text-rust border-l-2 py-1 pl-3 text-sm">
      {words(error)}
    </p>
  );
}

/** What belongs on an empty page and the first step towards it. */
export function Empty({ title, children }: { title: string; children?: ReactNode }) {
  return (
    <div className="mx-auto max-w-md px-6 py-16 text-center">
      <p className="text-base font-semibold">{title}</p>
      <div className="text-quiet mt-2 text-sm">{children}</div>
    </div>
  );
}

/** A page's heading with its main action at the right. */
export function Heading({ title, note, children }: { title: string; note?: string; children?: ReactNode }) {
  return (
    <div className="flex min-h-14 shrink-0 flex-wrap items-center gap-x-3 gap-y-1 px-5 py-2 max-md:px-4">
      <h1 className="text-lg font-semibold">{title}</h1>
      {note && <span className="text-quiet text-sm">{note}</span>}
      <div className="ml-auto flex flex-wrap items-center gap-2 max-md:ml-0">{children}</div>
    </div>
  );
}

const zoned = new Intl.DateTimeFormat('en-GB', {
  day: 'numeric',
  month: 'short',
  hour: '2-digit',
  minute: '2-digit',
});

/** How long ago something was, or when it will be, for a reader. */
export function ago(at: string, now = Date.now()): string {
  const seconds = Math.round((now - Date.parse(at)) / 1000);
  const far = Math.abs(seconds);
  if (far < 10) {
    return 'just now';
  }
  if (far >= 86_400) {
    return zoned.format(new Date(at));
  }
  const span =
    far < 60 ? `${far} s` : far < 3600 ? `${Math.floor(far / 60)} min` : `${Math.floor(far / 3600)} h`;
  return seconds < 0 ? `in ${span}` : `${span} ago`;
}

/** A moment, relative, with the exact instant on hover. */
export function Moment({ at }: { at?: string }) {
  if (!at) {
    return <span className="text-quiet">–</span>;
  }
  return (
    <time dateTime={at} title={moment(at)}>
      {ago(at)}
    </time>
  );
}

/** A number with its noun, such as "3 devices". */
export const counted = (n: number, what: string, many = `${what}s`): string =>
  `${n} ${n === 1 ? what : many}`;

/** Bytes for people, in powers of ten as makers count. */
export function bytes(n: number): string {
  return n >= 1e9 ? `${(n / 1e9).toFixed(1)} GB` : `${(n / 1e6).toFixed(0)} MB`;
}

export function Tag({ children }: { children: ReactNode }) {
  return <span className="border-line rounded-[3px] border px-1.5 text-xs leading-5">{children}</span>;
}
