import clsx from 'clsx';
import type { App } from './apps';

/** The icon of an app; where it has none, the first letter of its name. */
export function AppMark({ app, large }: { app: Pick<App, 'id' | 'name' | 'icon'>; large?: boolean }) {
  const size = large ? 'size-12 text-xl' : 'size-5 text-xs';
  return app.icon ? (
    <img src={`/api/v1/apps/${app.id}/icon`} alt="" className={clsx(size, 'shrink-0 rounded-[22%]')} />
  ) : (
    <span
      aria-hidden
      className={clsx(
        size,
        'border-line text-quiet flex shrink-0 items-center justify-center rounded-[22%] border font-semibold',
      )}
    >
      {app.name.slice(0, 1).toUpperCase()}
    </span>
  );
}
