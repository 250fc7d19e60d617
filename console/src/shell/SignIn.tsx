import { zodResolver } from '@hookform/resolvers/zod';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useForm } from 'react-hook-form';
import { z } from 'zod';
import { answer, api } from '../api/client';
import { Button, Labelled, Trouble } from '../ui/parts';
import { Mark } from './Mark';

const form = z.object({
  login: z.string().min(1, 'Type your login.'),
  password: z.string().min(1, 'Type your password.'),
});

/** The sign-in page. */
export function SignIn() {
  const queries = useQueryClient();
  const [trouble, setTrouble] = useState<unknown>();
  const { register, handleSubmit, formState } = useForm<z.infer<typeof form>>({
    resolver: zodResolver(form),
  });
  const submit = handleSubmit(async (body) => {
    try {
      await answer(api.POST('/sign-in', { body }));
      await queries.invalidateQueries();
    } catch (e) {
      setTrouble(e);
    }
  });
  return (
    <main className="grid h-full place-items-center p-6">
      <form onSubmit={submit} className="frame w-full max-w-sm space-y-4 rounded-[3px] p-8">
        <div className="flex items-center gap-3">
          <Mark />
          <h1 className="text-xl font-semibold">Pinwright</h1>
        </div>
        <Labelled label="Login" error={formState.errors.login?.message}>
          <input {...register('login')} className="field" autoComplete="username" autoFocus />
        </Labelled>
        <Labelled label="Password" error={formState.errors.password?.message}>
          <input
            {...register('password')}
            type="password"
            className="field"
            autoComplete="current-password"
          />
        </Labelled>
        <Trouble error={trouble} />
        <Button
          type="submit"
          weight="main"
          disabled={formState.isSubmitting}
          className="w-full justify-center"
        >
          Sign in
        </Button>
        <p className="text-quiet text-xs">
          The first owner's password is printed when the service first starts.
        </p>
      </form>
    </main>
  );
}
