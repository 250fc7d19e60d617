import { screen } from '@testing-library/react';
import { expect, it } from 'vitest';
import type { Schemas } from '../api/client';
import { serve, show } from '../testing/service';
import { ProfileStanding } from './ProfileStanding';

const profile = { id: 'p1', publishedVersion: 2 } as Schemas['Profile'];

it('says who has a profile, who waits, and what was refused of it', async () => {
  serve({
    'GET /profiles/p1/standing': {
      inForce: true,
      standings: { settled: 95, 'catching-up': 3, blocked: 2 },
      withheld: [
        { setting: 'restrictions.camera-off', title: 'Camera off', reason: 'cannot do that', devices: 2 },
      ],
    },
  });
  show(<ProfileStanding profile={profile} />);
  expect((await screen.findByText('100 devices')).getAttribute('href')).toBe('/devices?profile=p1');
  expect(screen.getByText('2').closest('a')?.getAttribute('href')).toBe(
    '/devices?profile=p1&standing=blocked',
  );
  expect(screen.getByText('2 devices refused Camera off: it cannot do that.')).toBeTruthy();
});

it('says that nobody has one that is not in force', async () => {
  serve({ 'GET /profiles/p1/standing': { inForce: false, standings: {}, withheld: [] } });
  show(<ProfileStanding profile={profile} />);
  expect(await screen.findByText('It goes to nobody now.')).toBeTruthy();
});
