import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { answer, api } from '../api/client';

/** What a pattern makes of devices that are on their way or there, as it is typed. */
export function NamePreview(props: { pattern: string; unitId?: string; siteId?: string }) {
  const { pattern, unitId, siteId } = props;
  const preview = useQuery({
    queryKey: ['name-preview', pattern, unitId, siteId],
    enabled: pattern.trim() !== '',
    retry: false,
    placeholderData: keepPreviousData,
    queryFn: () =>
      answer(
        api.POST('/enrollment-profiles/name-preview', { body: { namePattern: pattern, unitId, siteId } }),
      ),
  });
  if (preview.error) {
    return <p className="text-rust text-xs">{preview.error.message}</p>;
  }
  return (
    <ul className="text-xs" aria-label="Names as they would be">
      {preview.data?.slice(0, 3).map((n) => (
        <li key={n.device} className="flex justify-between gap-3">
          <span className="text-quiet truncate font-mono">{n.device}</span>
          <span className="truncate">{n.name}</span>
        </li>
      ))}
    </ul>
  );
}
