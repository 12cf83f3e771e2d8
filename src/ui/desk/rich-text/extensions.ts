import { TableKit } from '@tiptap/extension-table';
import StarterKit from '@tiptap/starter-kit';

/** What a long description may hold: what CommonMark and its tables can say, so that nothing is lost on the way. */
export const EXTENSIONS = [
  StarterKit.configure({
    heading: { levels: [1, 2, 3, 4, 5, 6] },
    link: {
      openOnClick: false,
      autolink: false,
      defaultProtocol: 'https',
      HTMLAttributes: { target: null, rel: null },
    },
    strike: false,
    underline: false,
    trailingNode: false,
  }),
  TableKit.configure({ table: { resizable: false } }),
];
