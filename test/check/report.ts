/** What `eltrix check --json` prints, as far as tests read it. */
export interface Report {
  readonly elements: readonly {
    readonly tag: string;
    readonly engines: Readonly<Record<string, readonly { rule: string; outcome: string }[]>>;
  }[];
}
