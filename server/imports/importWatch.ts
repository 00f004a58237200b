/** Takes up imports that wait, whoever took them in, and those that a server left when it was stopped. */
export interface ImportWatch {
  /** Looks at once. */
  look(): void;
  stop(): Promise<void>;
}
