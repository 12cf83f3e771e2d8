import { GalleyView } from './galley';

/** Addresses outlive names: what was bookmarked before states, rules and groups were renamed still shows the same. */
test.each([
  [{ state: 'unsaid' }, { state: 'missing' }],
  [
    { state: 'said', rule: 'text-unsaid' },
    { state: 'described', rule: 'text-not-in-alt' },
  ],
  [
    { state: 'silent', series: '7' },
    { state: 'decorative', similarGroup: 7 },
  ],
  [
    { state: 'constructor', rule: 'toString' },
    { state: 'all', rule: 'toString' },
  ],
])('%j is %j', (asked, view) => expect(GalleyView.parse(asked)).toMatchObject(view));
