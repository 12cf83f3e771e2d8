import type { Editor } from '@tiptap/core';
import { Toolbar } from 'radix-ui';
import { useState, type ReactNode } from 'react';
import { strings } from '../../strings';

const s = strings.desk.rich;

/** What the text at the cursor is, and what can be made of it: one stop of the Tab key, arrows inside. */
export function RichTextToolbar({ editor }: { editor: Editor }) {
  const [address, setAddress] = useState<string | null>(null);
  const run = () => editor.chain().focus();
  const isInTable = editor.isActive('table');
  return (
    <>
      <Toolbar.Root aria-label={s.toolbar} className="rich-tools">
        <Tool isOn={editor.isActive('heading', { level: 2 })} press={() => run().toggleHeading({ level: 2 }).run()}>
          {s.heading}
        </Tool>
        <Tool isOn={editor.isActive('heading', { level: 3 })} press={() => run().toggleHeading({ level: 3 }).run()}>
          {s.subheading}
        </Tool>
        <Tool isOn={editor.isActive('bulletList')} press={() => run().toggleBulletList().run()}>
          {s.list}
        </Tool>
        <Tool isOn={editor.isActive('orderedList')} press={() => run().toggleOrderedList().run()}>
          {s.numbered}
        </Tool>
        <Tool isOn={editor.isActive('bold')} press={() => run().toggleBold().run()}>
          <b>{s.bold}</b>
        </Tool>
        <Tool isOn={editor.isActive('italic')} press={() => run().toggleItalic().run()}>
          <i>{s.italic}</i>
        </Tool>
        <Tool
          isOn={editor.isActive('link')}
          press={() => setAddress(String(editor.getAttributes('link')['href'] ?? ''))}
        >
          {s.link}
        </Tool>
        {isInTable ? (
          <>
            <Tool press={() => run().addRowAfter().run()}>{s.addRow}</Tool>
            <Tool press={() => run().addColumnAfter().run()}>{s.addColumn}</Tool>
            <Tool press={() => run().deleteRow().run()}>{s.deleteRow}</Tool>
            <Tool press={() => run().deleteColumn().run()}>{s.deleteColumn}</Tool>
            <Tool press={() => run().deleteTable().run()}>{s.deleteTable}</Tool>
          </>
        ) : (
          <Tool press={() => run().insertTable({ rows: 3, cols: 2, withHeaderRow: true }).run()}>{s.table}</Tool>
        )}
      </Toolbar.Root>
      {address !== null && (
        <LinkForm
          address={address}
          close={() => {
            setAddress(null);
            editor.commands.focus();
          }}
          set={(href) => {
            setAddress(null);
            setLink(editor, href);
          }}
        />
      )}
    </>
  );
}

interface ToolProps {
  /** Of what is so or not. */
  isOn?: boolean;
  press(): void;
  children: ReactNode;
}

function Tool({ isOn, press, children }: ToolProps) {
  return (
    <Toolbar.Button
      className="rich-tool"
      onClick={press}
      // The place in the text stays where it is.
      onMouseDown={(e) => e.preventDefault()}
      {...(isOn === undefined ? {} : { 'aria-pressed': isOn })}
    >
      {children}
    </Toolbar.Button>
  );
}

/** Makes the chosen words a link; without any, the address stands for itself. An empty address takes the link away. */
function setLink(editor: Editor, href: string): void {
  const chain = editor.chain().focus().extendMarkRange('link');
  if (href === '') chain.unsetLink().run();
  else if (editor.state.selection.empty && !editor.isActive('link'))
    chain.insertContent({ type: 'text', text: href, marks: [{ type: 'link', attrs: { href } }] }).run();
  else chain.setLink({ href }).run();
}

interface LinkProps {
  address: string;
  set(href: string): void;
  close(): void;
}

/** Schemes that a page may lead to, and addresses without one. */
const SAFE = /^(?:https?:|mailto:|tel:|[^:]*$|[./#?])/i;

function LinkForm({ address, set, close }: LinkProps) {
  const [href, setHref] = useState(address);
  const isSafe = SAFE.test(href.trim());
  return (
    <form
      className="flex flex-wrap items-baseline gap-x-3 gap-y-1 border-x border-hair-2 px-3 py-2 text-[14px]"
      onSubmit={(e) => {
        e.preventDefault();
        if (isSafe) set(href.trim());
      }}
      onKeyDown={(e) => {
        if (e.key === 'Escape') close();
      }}
    >
      <label className="flex min-w-0 flex-1 items-baseline gap-2">
        {s.address}
        <input
          autoFocus
          className="field min-w-0 flex-1"
          value={href}
          onChange={(e) => setHref(e.target.value)}
          aria-invalid={!isSafe || undefined}
          inputMode="url"
        />
      </label>
      <button type="submit" className="link" disabled={!isSafe}>
        {s.setLink}
      </button>
      <button type="button" className="link" onClick={close}>
        {s.cancel}
      </button>
      {!isSafe && <p className="basis-full text-look">{s.unsafe}</p>}
    </form>
  );
}
