/** Each standing has a colour and a shape of its own, so that colour is never the only sign. */
const signs: Record<string, { colour: string; shape: React.ReactNode; word: string }> = {
  settled: {
    colour: 'text-moss',
    word: 'settled',
    shape: <circle cx="6" cy="6" r="4.5" fill="currentColor" />,
  },
  'catching-up': {
    colour: 'text-amber',
    word: 'catching up',
    shape: (
      <>
        <circle cx="6" cy="6" r="4.2" fill="none" stroke="currentColor" strokeWidth="1.4" />
        <path d="M6 1.8a4.2 4.2 0 0 1 0 8.4z" fill="currentColor" />
      </>
    ),
  },
  drifted: {
    colour: 'text-amber',
    word: 'drifted',
    shape: <path d="M6 .8 11.2 6 6 11.2.8 6z" fill="currentColor" />,
  },
  blocked: {
    colour: 'text-rust',
    word: 'blocked',
    shape: (
      <>
        <rect x="1.5" y="1.5" width="9" height="9" fill="currentColor" />
        <path d="M3.5 6h5" stroke="var(--sheet)" strokeWidth="1.6" />
      </>
    ),
  },
  silent: {
    colour: 'text-slate',
    word: 'silent',
    shape: (
      <circle
        cx="6"
        cy="6"
        r="4.2"
        fill="none"
        stroke="currentColor"
        strokeWidth="1.4"
        strokeDasharray="2 1.6"
      />
    ),
  },
  retired: {
    colour: 'text-slate',
    word: 'retired',
    shape: <path d="M2 6h8" stroke="currentColor" strokeWidth="2" />,
  },
  done: {
    colour: 'text-moss',
    word: 'done',
    shape: <path d="m1.5 6.4 3 3 6-6.6" fill="none" stroke="currentColor" strokeWidth="1.8" />,
  },
  queued: {
    colour: 'text-slate',
    word: 'queued',
    shape: <path d="M2 3h8M2 6h8M2 9h8" stroke="currentColor" strokeWidth="1.4" />,
  },
  delivered: {
    colour: 'text-amber',
    word: 'delivered',
    shape: <path d="m2 2 8 4-8 4z" fill="currentColor" />,
  },
  failed: {
    colour: 'text-rust',
    word: 'failed',
    shape: <path d="m2 2 8 8m0-8-8 8" stroke="currentColor" strokeWidth="1.8" />,
  },
  expired: {
    colour: 'text-slate',
    word: 'expired',
    shape: <path d="M2.5 1.5h7L6 6l3.5 4.5h-7L6 6z" fill="currentColor" />,
  },
  cancelled: {
    colour: 'text-slate',
    word: 'cancelled',
    shape: <path d="M2 10 10 2" stroke="currentColor" strokeWidth="1.8" />,
  },
};
signs['waiting'] = { ...signs['catching-up'], word: 'waiting' };
signs['under-way'] = { ...signs['delivered'], word: 'under way' };
signs['refused'] = { ...signs['failed'], word: 'refused' };
signs['abandoned'] = { ...signs['expired'], word: 'abandoned' };
signs['open'] = { ...signs['settled'], word: 'open' };
signs['spent'] = { ...signs['done'], colour: 'text-slate', word: 'spent' };
signs['lapsed'] = { ...signs['expired'], word: 'lapsed' };
signs['planned'] = { ...signs['queued'], word: 'planned' };
signs['expected'] = { ...signs['queued'], word: 'expected' };
signs['arrived'] = { ...signs['done'], word: 'arrived' };
signs['withdrawn'] = { ...signs['cancelled'], word: 'withdrawn' };
signs['connected'] = { ...signs['done'], word: 'connected' };
signs['attention'] = { ...signs['drifted'], word: 'needs attention' };
signs['held'] = { ...signs['drifted'], word: 'left alone' };
signs['missing'] = { ...signs['silent'], word: 'missing' };
signs['requested'] = { ...signs['delivered'], word: 'to be signed' };
signs['lapsing'] = { ...signs['drifted'], word: 'lapses soon' };
signs['failing'] = { ...signs['failed'], word: 'failing' };
signs['closed'] = { ...signs['retired'], word: 'closed' };
signs['plugged'] = { ...signs['queued'], word: 'plugged in' };
signs['erasing'] = { ...signs['expired'], colour: 'text-amber', word: 'erasing' };
signs['joining'] = { ...signs['delivered'], word: 'joining' };
signs['setting-up'] = { ...signs['catching-up'], word: 'setting up' };
signs['ready'] = { ...signs['done'], word: 'ready' };
signs['in-order'] = { ...signs['done'], word: 'in order' };
signs['in-grace'] = { ...signs['expired'], colour: 'text-amber', word: 'time left' };
signs['out-of-order'] = { ...signs['failed'], word: 'out of order' };
signs['none'] = { ...signs['retired'], word: 'not mailed' };
signs['due'] = { ...signs['queued'], word: 'to be mailed' };
signs['sent'] = { ...signs['done'], word: 'mailed' };

/** How something stands, as a sign and a word. */
export function Standing({ of, reason, word }: { of: string; reason?: string; word?: string }) {
  const sign = signs[of] ?? signs['silent'];
  return (
    <span className="inline-flex min-w-0 items-center gap-1.5" title={reason}>
      <svg viewBox="0 0 12 12" className={`size-3 shrink-0 ${sign.colour}`} aria-hidden>
        {sign.shape}
      </svg>
      <span className="truncate">{word ?? sign.word}</span>
    </span>
  );
}

/** The colour of a standing, for strips. */
export const standingColour: Record<string, string> = {
  settled: 'bg-moss',
  'catching-up': 'bg-amber',
  drifted: 'bg-amber',
  blocked: 'bg-rust',
  silent: 'bg-slate',
};

/** Standings in the order they are shown. */
export const standings = ['settled', 'catching-up', 'drifted', 'blocked', 'silent'];
