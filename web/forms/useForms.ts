import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type { Form } from '#core/contract/askingCalls.ts';
import { send } from '../api/client.ts';
import { keys } from '../api/keys.ts';

const readForms = async () => (await send('GET /api/forms')).body;
export type ShopForm = Awaited<ReturnType<typeof readForms>>[number];

export const useForms = () => useQuery({ queryKey: keys.forms, queryFn: readForms });

function useChange<Given>(mutationFn: (given: Given) => Promise<void>) {
  const client = useQueryClient();
  return useMutation({ mutationFn, onSuccess: () => client.invalidateQueries({ queryKey: keys.forms }) });
}

export const useSaveForm = () =>
  useChange(async ({ code, form }: { readonly code: string; readonly form: Form }) => {
    await send('PUT /api/forms/{code}', { params: { code }, body: form });
  });

export const useDeleteForm = () =>
  useChange(async (code: string) => {
    await send('DELETE /api/forms/{code}', { params: { code } });
  });
