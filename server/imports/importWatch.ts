/** Takes up waiting imports, and those abandoned by a stopped server. */
export interface ImportWatch {
  /** Looks at once. */
  look(): void;
  stop(): Promise<void>;
}
