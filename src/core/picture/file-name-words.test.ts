import { fileNameWords, sharedNameParts } from './file-name-words';

test.each([
  ['/img/red-bicycle-2_final.jpg', 'red bicycle'],
  ['IMG_2041.jpg', ''],
  ['DSC00412-quay.jpg', ''],
  ['puffinColony.webp', 'puffin colony'],
  ['a1b2c3d4e5f6.png', ''],
  ['caf%C3%A9-terrace.jpg?w=200', 'café terrace'],
  ['bad%ZZname.jpg', 'bad%zzname'],
  ['signal-cheby1.png', 'signal cheby1'],
  ['tcp-newReno.png', 'tcp new reno'],
  ['data:image/png;base64,AAAA', ''],
])('the words in %s are %j', (src, words) => expect(fileNameWords(src)).toBe(words));

test('what the names of many files share goes, and so do numbers that only count', () => {
  const names = ['quay', 'seal', 'puffin', 'light', 'holm', 'crew', 'wave', 'slip', 'cafe', 'shed', 'mast', 'buoy'];
  const shared = sharedNameParts([
    ...names.map((n) => `skerry_plot_${n}_001.png`),
    ...[1, 2, 3, 4].map((n) => `boat${n}.png`),
  ]);
  expect(fileNameWords('skerry_plot_filter_cheby1_001.png', shared)).toBe('filter cheby1');
  expect(fileNameWords('boat3.png', shared)).toBe('boat');
  expect(fileNameWords('boat3.png')).toBe('boat3');
});
