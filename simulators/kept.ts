export interface Letter {
  readonly id: number;
  readonly at: Date;
  readonly from: string;
  readonly to: string;
  readonly subject: string;
  readonly text: string;
  readonly html: string;
}

/** What arrived, the newest first; the oldest make room. */
export class Kept {
  private readonly all: Letter[] = [];
  private next = 1;

  constructor(private readonly most = 2000) {}

  add(letter: Omit<Letter, 'id'>): void {
    this.all.unshift({ ...letter, id: this.next++ });
    this.all.length = Math.min(this.all.length, this.most);
  }

  /** Those that go to an address, or have words in them. */
  find(words: string): readonly Letter[] {
    const wanted = words.trim().toLowerCase();
    return this.all.filter(({ to, subject, text }) => `${to}\n${subject}\n${text}`.toLowerCase().includes(wanted));
  }

  letter(id: number): Letter | undefined {
    return this.all.find((letter) => letter.id === id);
  }

  forget(): void {
    this.all.length = 0;
  }
}
