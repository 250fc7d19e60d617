import { useQuery } from '@tanstack/react-query';
import { api, answer, type Schemas, carry } from './client';

/** Who is signed in; null when nobody is. */
export function useMe() {
  return useQuery({
    queryKey: ['me'],
    retry: false,
    staleTime: Infinity,
    queryFn: async (): Promise<Schemas['Me'] | null> => {
      const { data, response } = await api.GET('/me');
      if (response.status === 401) {
        return null;
      }
      const me = await answer(Promise.resolve({ data, response }));
      carry(me.csrf);
      return me;
    },
  });
}

/** The catalogue; it only changes with the service. */
export function useCatalogue() {
  return useQuery({
    queryKey: ['catalogue'],
    staleTime: Infinity,
    queryFn: () => answer(api.GET('/catalogue')),
  });
}
