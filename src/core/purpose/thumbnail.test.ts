import { isThumbnailOf } from './thumbnail';

/** File names as makers of galleries give them (from memory: Sphinx-Gallery, MediaWiki, photo galleries). */
const file = (src: string, width: number, height: number) => ({ src, width, height });

test.each<[string, string, boolean]>([
  ['sphx_glr_plot_camera_numpy_thumb.png', 'sphx_glr_plot_camera_numpy_001.png', true],
  ['120px-Harbour.jpg', 'Harbour.jpg', true],
  ['quay_small.jpg', 'quay.jpg', true],
  ['quay.jpg', 'ferry.jpg', false],
  ['a.png', 'abc.png', false],
  ['sphx_glr_plot_coins_segmentation_003.png', 'sphx_glr_plot_coins_segmentation_001.png', false],
  ['quay-160.jpg', 'quay-640.jpg', true],
])('%s of %s: %s', (small, large, is) => {
  expect(isThumbnailOf(file(small, 160, 112), [file('logo.svg', 900, 900), file(large, 640, 480)])).toBe(is);
});

test('what is no larger there, or has no size or file, is no thumbnail', () => {
  expect(isThumbnailOf(file('quay.jpg', 640, 480), [file('quay.jpg', 640, 480)])).toBe(false);
  expect(isThumbnailOf({ src: null, width: 1, height: 1 }, [file('quay.jpg', 640, 480)])).toBe(false);
  expect(isThumbnailOf(file('quay.jpg', 64, 48), [{ src: 'quay.jpg', width: null, height: null }])).toBe(false);
});
