/** The ways by which something can arrive. */
export type Way = 'mail' | 'text' | 'chat' | 'hook';

export interface Letter {
  readonly id: number;
  readonly at: Date;
  readonly way: Way;
  readonly from: string;
  readonly to: string;
  readonly subject: string;
  readonly text: string;
  readonly html: string;
}

/** Received messages, the newest first; the oldest are dropped. */
export class Kept {
  private all: Letter[] = [];
  private readonly keys = new Set<string>();
  private next = 1;

  constructor(private readonly most = 2000) {}

  /** @param key identifies it, if the sender gives one; repeats are not kept twice */
  add(letter: Omit<Letter, 'id' | 'at'>, key?: string): void {
    if (key !== undefined) {
      if (this.keys.has(key)) return;
      this.keys.add(key);
    }
    this.all.unshift({ ...letter, at: new Date(), id: this.next++ });
    this.all.length = Math.min(this.all.length, this.most);
  }

  /** Finds messages by address or words. */
  find(words: string): readonly Letter[] {
    const wanted = words.trim().toLowerCase();
    return this.all.filter(({ to, subject, text }) => `${to}\n${subject}\n${text}`.toLowerCase().includes(wanted));
  }

  letter(id: number): Letter | undefined {
    return this.all.find((letter) => letter.id === id);
  }

  forget(): void {
    this.all = [];
  }
}
