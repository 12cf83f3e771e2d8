'use client';

import { EditorContent, useEditor } from '@tiptap/react';
import { useEffect, useId, useRef } from 'react';
import { commandOf } from '../../keys/use-commands';
import { strings } from '../../strings';
import { EXTENSIONS } from './extensions';
import { markdownOf, richTextOf } from './markdown';
import { RichTextToolbar } from './toolbar';

/** What moves on from the picture, also while its long description is written. */
const DESK_KEYS = ['desk.save-and-next', 'desk.next', 'desk.previous', 'text.accept-draft'] as const;

interface Props {
  /** In CommonMark with tables. */
  value: string;
  label: string;
  lang: string | null;
  isWritten: boolean;
  /** Rises with each wish to go to the end of the text; 0 for none. */
  wish: number;
  change(text: string): void;
  leave(): void;
}

/** Writes headings, lists, tables and links as they will read. */
export function RichText({ value, label, lang, isWritten, wish, change, leave }: Props) {
  const id = useId();
  // Texts that were written here and may come back as `value` later than the next key: they replace nothing.
  const written = useRef<string[]>([]);
  const latest = useRef({ change, leave, isWritten });
  useEffect(() => {
    latest.current = { change, leave, isWritten };
  });
  const editor = useEditor({
    extensions: EXTENSIONS,
    immediatelyRender: false,
    shouldRerenderOnTransaction: true,
    injectCSS: false,
    editorProps: {
      attributes: () => ({
        role: 'textbox',
        'aria-multiline': 'true',
        'aria-label': label,
        'aria-describedby': id,
        'data-written': latest.current.isWritten ? 'yes' : 'no',
        ...(lang ? { lang } : {}),
        dir: 'auto',
        class: 'long-text rich-text',
      }),
      // Keys of the Desk go past the editor, which has an act of its own for some of them.
      handleDOMEvents: { keydown: (_, event) => commandOf(event, DESK_KEYS) !== null },
      handleKeyDown: (_, event) => {
        if (event.key !== 'Escape') return false;
        latest.current.leave();
        return true;
      },
    },
    onUpdate: ({ editor: e }) => {
      const text = markdownOf(e.state.doc);
      written.current.push(text);
      latest.current.change(text);
    },
  });
  useEffect(() => {
    if (!editor) return;
    const at = written.current.lastIndexOf(value);
    written.current = at < 0 ? [value] : written.current.slice(at);
    if (at >= 0) return;
    editor.commands.setContent(richTextOf(editor.schema, value).toJSON(), { emitUpdate: false });
  }, [editor, value]);
  useEffect(() => {
    if (wish > 0) editor?.commands.focus('end');
  }, [editor, wish]);
  return (
    <div className="max-w-[760px]">
      {editor && <RichTextToolbar editor={editor} />}
      <EditorContent editor={editor} />
      <p id={id} className="mt-1 text-[13px] text-ink-2">
        {strings.desk.long.how}
      </p>
    </div>
  );
}
