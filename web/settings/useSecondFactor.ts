import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type {
  endSecondFactor,
  getSecondFactor,
  postRecoveryCodes,
  postSecondFactor,
  putSecondFactor,
} from '#core/contract/secondFactorCalls.ts';
import { send } from '../api/client.ts';
import { keys } from '../api/keys.ts';

const PATH = '/api/second-factor';

export const useSecondFactor = () =>
  useQuery({
    queryKey: keys.secondFactor,
    queryFn: async () => (await send<typeof getSecondFactor>('get', PATH)).body,
  });

/** Changes to a second factor, each confirmed by the password or a code. */
export function useSecondFactorActs() {
  const client = useQueryClient();
  const onSuccess = () => client.invalidateQueries({ queryKey: keys.secondFactor });
  return {
    begin: useMutation({
      mutationFn: async (password: string) =>
        (await send<typeof postSecondFactor>('post', PATH, { body: { password } })).body,
    }),
    turnOn: useMutation({
      mutationFn: async (code: string) =>
        (await send<typeof putSecondFactor>('put', PATH, { body: { code } })).body.recoveryCodes,
      onSuccess,
    }),
    renewCodes: useMutation({
      mutationFn: async (password: string) =>
        (await send<typeof postRecoveryCodes>('post', `${PATH}/recovery-codes`, { body: { password } })).body
          .recoveryCodes,
      onSuccess,
    }),
    turnOff: useMutation({
      mutationFn: async (body: { password: string; code: string }) => {
        await send<typeof endSecondFactor>('post', `${PATH}/removal`, { body });
      },
      onSuccess,
    }),
  };
}
