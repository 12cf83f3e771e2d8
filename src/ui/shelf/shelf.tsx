'use client';

import Link from 'next/link';
import { AlertDialog, Dialog } from 'radix-ui';
import { useState } from 'react';
import type { Message } from '@/core/model/message';
import { Strip } from '../primitives/strip';
import { AlertDialogContent, DialogContent } from '../primitives/dialog-content';
import { strings } from '../strings';
import { AddForm } from './add-form';
import type { FormAction } from '../primitives/use-sent-form';
import { DropZone } from './drop-zone';

export interface ShelfEntry {
  id: string;
  name: string;
  kind: keyof typeof strings.kinds;
  pages: number;
  pictures: number;
  described: number;
  decorative: number;
  missing: number;
  doubtful: number;
  /** Address of the site, or path of the folder. */
  root: string;
  /** The outcome of its last survey, and when. */
  surveyed: string;
  /** Why its last survey failed; null when it did not. */
  problem: Message | null;
  running: boolean;
}

interface Props {
  lines: readonly ShelfEntry[];
  localFolders: boolean;
  survey: FormAction;
  surveyAgain(form: FormData): Promise<void>;
  takeOff(form: FormData): Promise<void>;
  rename(form: FormData): Promise<void>;
}

export function Shelf({ lines, localFolders, survey, surveyAgain, takeOff, rename }: Props) {
  const s = strings.shelf;
  return (
    <DropZone>
      {(files) => (
        <>
          <h1 className="sr-only">{s.title}</h1>
          <section className="mb-6 border border-hair-2 px-5 py-4" aria-label={s.surveyIt}>
            <AddForm localFolders={localFolders} survey={survey} />
            {files}
          </section>
          <h2 className="rule-below text-[20px] font-bold">{s.heading}</h2>
          {lines.length === 0 && <p className="max-w-[60ch] py-6 text-[17px] text-ink-2">{s.empty}</p>}
          <ul>
            {lines.map((line) => (
              <ShelfLine key={line.id} line={line} {...{ surveyAgain, takeOff, rename }} />
            ))}
          </ul>
        </>
      )}
    </DropZone>
  );
}

type LineProps = { line: ShelfEntry } & Pick<Props, 'surveyAgain' | 'takeOff' | 'rename'>;

function ShelfLine({ line, surveyAgain, takeOff, rename }: LineProps) {
  const s = strings.shelf;
  return (
    <li className="grid items-center gap-x-7 gap-y-3 border-b border-hair py-4 lg:grid-cols-[1fr_300px_auto]">
      <div className="min-w-0">
        <Link
          href={`/c/${line.id}`}
          className="text-[21px] leading-tight font-semibold break-words text-ink no-underline hover:underline"
        >
          {line.name}
        </Link>
        <p className="mt-1 text-[14px] text-ink-2">
          {s.line(strings.kinds[line.kind], strings.pages(line.pages), strings.pictures(line.pictures))}
          {` · ${line.surveyed}`}
        </p>
        <p className="mt-0.5 font-code text-[13px] break-all text-ink-2">{line.root}</p>
        {line.problem && <p className="mt-1 text-[14px] text-fails">{strings.message(line.problem)}</p>}
      </div>
      <div>
        <Strip
          described={line.described}
          decorative={line.decorative}
          missing={line.missing}
          doubtful={line.doubtful}
        />
        <p className="mt-1.5 text-[13px] text-ink-2">
          {s.counts(line.described, line.decorative, line.missing, line.doubtful)}
        </p>
      </div>
      <div className="flex flex-wrap gap-x-4 gap-y-1 text-[14px]">
        <Link href={line.running ? `/c/${line.id}/survey` : `/c/${line.id}`}>
          {line.running ? s.watch : s.open}
          <span className="sr-only"> {line.name}</span>
        </Link>
        {!line.running && (
          <form action={surveyAgain}>
            <input type="hidden" name="collection" value={line.id} />
            <button type="submit" className="link">
              {s.again}
              <span className="sr-only"> {line.name}</span>
            </button>
          </form>
        )}
        <Rename line={line} rename={rename} />
        <AlertDialog.Root>
          <AlertDialog.Trigger className="link text-left">
            {s.remove}
            <span className="sr-only"> {line.name}</span>
          </AlertDialog.Trigger>
          <AlertDialog.Portal>
            <AlertDialog.Overlay className="fixed inset-0 z-30 bg-ink/30" />
            <AlertDialogContent className="dialog">
              <AlertDialog.Title className="text-[20px] font-bold">{s.removeTitle(line.name)}</AlertDialog.Title>
              <AlertDialog.Description className="mt-2">{s.removeAbout}</AlertDialog.Description>
              <form action={takeOff} className="mt-5 flex flex-wrap gap-3">
                <input type="hidden" name="collection" value={line.id} />
                <button type="submit" className="button">
                  {s.remove}
                </button>
                <AlertDialog.Cancel className="button quiet">{s.cancel}</AlertDialog.Cancel>
              </form>
            </AlertDialogContent>
          </AlertDialog.Portal>
        </AlertDialog.Root>
      </div>
    </li>
  );
}

/** Asks for another name; the collection's address stays what it is. */
function Rename({ line, rename }: Pick<LineProps, 'line' | 'rename'>) {
  const s = strings.shelf;
  const [open, setOpen] = useState(false);
  return (
    <Dialog.Root open={open} onOpenChange={setOpen}>
      <Dialog.Trigger className="link text-left">
        {s.rename}
        <span className="sr-only"> {line.name}</span>
      </Dialog.Trigger>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-30 bg-ink/30" />
        <DialogContent className="dialog" aria-describedby={undefined}>
          <Dialog.Title className="text-[20px] font-bold">{s.renameTitle(line.name)}</Dialog.Title>
          <form
            action={async (form) => {
              await rename(form);
              setOpen(false);
            }}
            className="mt-4 grid gap-4"
          >
            <input type="hidden" name="collection" value={line.id} />
            <label className="grid gap-1">
              {s.newName}
              <input
                name="name"
                required
                maxLength={200}
                defaultValue={line.name}
                autoComplete="off"
                className="field"
              />
            </label>
            <p className="flex flex-wrap gap-3">
              <button type="submit" className="button">
                {s.saveName}
              </button>
              <Dialog.Close className="button quiet">{s.cancel}</Dialog.Close>
            </p>
          </form>
        </DialogContent>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
