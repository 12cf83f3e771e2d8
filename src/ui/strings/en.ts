/** All text of the interface. A translation is a file beside this one with the same keys. */
export const strings = {
  product: 'Detto',
  shelf: {
    title: 'The shelf',
    heading: 'On the shelf',
    empty: 'Nothing is on the shelf yet. Give an address or a folder above, and Detto gathers its pictures.',
    site: 'Survey a site at',
    folder: 'or a folder of pages on this computer',
    surveyIt: 'Survey it',
    open: 'Open',
    again: 'Survey again',
    failed: 'That did not work:',
  },
} as const;
