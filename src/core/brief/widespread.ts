/** Share of all places from which findings of one rule have one cause: a setting, a template, a tool. */
const SHARE = 0.25;
/** Places below which they can be looked at one by one. */
const FEWEST = 20;

/** Whether a rule finds something in so many places that they want one decision instead of one each. */
export const isWidespread = (places: number, of: number): boolean => places >= FEWEST && places > SHARE * of;
