/** Ids that rules had in earlier versions of Detto: files and addresses with these are still read. */
const FORMER_IDS: Readonly<Record<string, string>> = {
  'silent-but-telling': 'empty-but-informative',
  'background-telling': 'informative-background',
  'target-unsaid': 'target-unnamed',
  'text-unsaid': 'text-not-in-alt',
  'unshown-words': 'stored-words-unused',
  'lost-long-description': 'broken-long-description',
  'markup-leak': 'markup-in-text',
  'borrowed-host': 'hotlinked',
  'decoration-described': 'decoration-with-text',
};

/** The id that a rule has now, by any id that it had. */
export const currentRuleId = (id: string): string => (Object.hasOwn(FORMER_IDS, id) ? FORMER_IDS[id]! : id);
