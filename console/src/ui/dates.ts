const two = (n: number) => String(n).padStart(2, '0');

/** A day as it is written everywhere here, whatever the browser is set to: 2026-11-28. */
export function day(at: string): string {
  const d = new Date(at);
  return `${d.getFullYear()}-${two(d.getMonth() + 1)}-${two(d.getDate())}`;
}

/** A moment, in the time of whoever looks: 2026-11-28 14:29:50. */
export function moment(at: string): string {
  const d = new Date(at);
  return `${day(at)} ${two(d.getHours())}:${two(d.getMinutes())}:${two(d.getSeconds())}`;
}

/** A moment as a field of local time takes it; nothing for none. */
export function toField(at: string | undefined): string {
  if (!at) {
    return '';
  }
  const d = new Date(at);
  return `${day(at)}T${two(d.getHours())}:${two(d.getMinutes())}`;
}

/** The moment a field of local time says; nothing where it is empty. */
export const fromField = (text: string): string | undefined =>
  text === '' ? undefined : new Date(text).toISOString();
