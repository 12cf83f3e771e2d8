/** A process of its own that does what a test asks of it, for tests of what several do at the same moment. */
await import('../db/schema');
const { database } = await import('../db/database');
const { startSurvey } = await import('../survey/surveys');
const { saveWords } = await import('../wordings/wordings');
const { keepFile } = await import('../blobs/blobs');
const { onChange } = await import('../changes');
const { limits } = await import('../limits/limits');

const heard: unknown[] = [];
const DOES = {
  startSurvey,
  saveWords,
  keepFile: (text: string) => keepFile(Buffer.from(text)),
  listen: async (collectionId: string) => void onChange(collectionId, (change) => heard.push(change)),
  heard: async () => heard,
  take: async (key: string, spacingMs: number) => (await limits()).take(key, spacingMs),
};
export type Does = typeof DOES;

export interface Asked {
  id: number;
  what: keyof Does;
  /** Milliseconds since 1970 at which it is done. */
  at: number;
  given: unknown[];
}
export interface Answered {
  id: number;
  result?: unknown;
  error?: string;
}

await database();
process.on('message', ({ id, what, at, given }: Asked) => {
  const answer = (own: Omit<Answered, 'id'>) => process.send!({ id, ...own } satisfies Answered);
  setTimeout(() => {
    (DOES[what] as (...given: unknown[]) => Promise<unknown>)(...given).then(
      (result) => answer({ result }),
      (error: unknown) => answer({ error: String(error) }),
    );
  }, at - Date.now());
});
process.send!('ready');
