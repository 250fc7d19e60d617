import { useQuery } from '@tanstack/react-query';
import { answer, api, everyPage } from './client';

/** Sites, for choosing one, or for drawing all of them. */
export const useSites = () =>
  useQuery({
    queryKey: ['sites', 'choice'],
    queryFn: () =>
      everyPage((after) => answer(api.GET('/sites', { params: { query: { after, limit: 200 } } }))),
  });

/** Groups, for choosing one. */
export const useGroups = () =>
  useQuery({
    queryKey: ['groups', 'choice'],
    queryFn: () =>
      everyPage((after) => answer(api.GET('/groups', { params: { query: { after, limit: 200 } } }))),
  });

/** Enrollment profiles, for choosing one. */
export const useEnrollmentProfiles = () =>
  useQuery({
    queryKey: ['enrollment-profiles', 'choice'],
    queryFn: () =>
      everyPage((after) =>
        answer(api.GET('/enrollment-profiles', { params: { query: { after, limit: 200 } } })),
      ),
  });

/** Apps of the catalogue, for choosing one. */
export const useApps = () =>
  useQuery({
    queryKey: ['apps', 'choice'],
    queryFn: () =>
      everyPage((after) => answer(api.GET('/apps', { params: { query: { after, limit: 200 } } }))),
  });
