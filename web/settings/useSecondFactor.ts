import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { send } from '../api/client.ts';
import { keys } from '../api/keys.ts';

export const useSecondFactor = () =>
  useQuery({
    queryKey: keys.secondFactor,
    queryFn: async () => (await send('GET /api/second-factor')).body,
  });

/** Changes to a second factor, each confirmed by the password or a code. */
export function useSecondFactorActs() {
  const client = useQueryClient();
  const onSuccess = () => client.invalidateQueries({ queryKey: keys.secondFactor });
  return {
    begin: useMutation({
      mutationFn: async (password: string) => (await send('POST /api/second-factor', { body: { password } })).body,
    }),
    turnOn: useMutation({
      mutationFn: async (code: string) => (await send('PUT /api/second-factor', { body: { code } })).body.recoveryCodes,
      onSuccess,
    }),
    renewCodes: useMutation({
      mutationFn: async (password: string) =>
        (await send('POST /api/second-factor/recovery-codes', { body: { password } })).body.recoveryCodes,
      onSuccess,
    }),
    turnOff: useMutation({
      mutationFn: async (body: { password: string; code: string }) => {
        await send('POST /api/second-factor/removal', { body });
      },
      onSuccess,
    }),
  };
}
