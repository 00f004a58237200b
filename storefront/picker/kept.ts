import type { PageMap } from '#core/contract/pageMap.ts';
import type { PickerStart } from '#core/contract/pageMapCalls.ts';
import { stillNeeded } from './parts.ts';
import type { Draft, PageKind } from './reading/reading.ts';

const TOKEN = 'understudy-picker';
const DRAFT = 'understudy-picker-draft';
const SEEN = 'understudy-picker-seen';

/** Calls of the picker, authorised by the token that the storefront script keeps for this tab. */
export class Kept {
  private readonly token = sessionStorage.getItem(TOKEN) ?? '';
  private sending: Promise<void> = Promise.resolve();

  constructor(private readonly origin: string) {}

  async start(): Promise<PickerStart> {
    const response = await this.call('GET');
    return (await response.json()) as PickerStart;
  }

  /** Draft from the previous page of this tab; null on the first. */
  before(): Draft | null {
    const text = sessionStorage.getItem(DRAFT);
    return text === null ? null : (JSON.parse(text) as Draft);
  }

  /** Kinds of pages that were read in this tab, these among them. */
  seen(kinds: readonly PageKind[]): readonly PageKind[] {
    const before = JSON.parse(sessionStorage.getItem(SEEN) ?? '[]') as PageKind[];
    const all = [...new Set([...before, ...kinds])];
    sessionStorage.setItem(SEEN, JSON.stringify(all));
    return all;
  }

  /**
   * Keeps a map: for the next page, and in the draft as soon as it is whole.
   * @returns whether it is in the draft
   * @throws {Error} in words for the owner
   */
  async keep(map: Draft): Promise<boolean> {
    sessionStorage.setItem(DRAFT, JSON.stringify(map));
    if (stillNeeded(map).length > 0) return false;
    // One after the other, so that the newest is the last.
    this.sending = this.sending
      .catch(() => undefined)
      .then(async () => {
        await this.call('PUT', map as PageMap);
      });
    await this.sending;
    return true;
  }

  end(): void {
    sessionStorage.removeItem(TOKEN);
    sessionStorage.removeItem(DRAFT);
    sessionStorage.removeItem(SEEN);
  }

  private async call(method: 'GET' | 'PUT', body?: PageMap): Promise<Response> {
    const query =
      method === 'GET' ? `?${String(new URLSearchParams({ path: location.pathname + location.search }))}` : '';
    const response = await fetch(`${this.origin}/v1/page-map-draft${query}`, {
      method,
      credentials: 'omit',
      headers: {
        Authorization: `Bearer ${this.token}`,
        ...(body ? { 'Content-Type': 'application/json' } : {}),
      },
      ...(body ? { body: JSON.stringify(body) } : {}),
    }).catch(() => null);
    if (!response) throw new Error('Understudy cannot be reached. Try again in a moment.');
    if (response.ok) return response;
    const problem = (await response.json().catch(() => null)) as {
      detail?: string;
      errors?: { pointer: string; allowed: string }[];
    } | null;
    const [fault] = problem?.errors ?? [];
    throw new Error(fault ? `${fault.pointer}: ${fault.allowed}` : (problem?.detail ?? `Answered ${response.status}.`));
  }
}
