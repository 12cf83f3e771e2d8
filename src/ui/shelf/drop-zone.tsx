'use client';

import { useRouter } from 'next/navigation';
import { useRef, useState, type DragEvent, type ReactNode } from 'react';
import { strings } from '../strings';
import { filesOfDrop, sendFolder, sendZip, whatToSend, type Dropped } from './send';

/** A sheet on which a folder, pages or a ZIP can be dropped; the same by two buttons. */
export function DropZone({ children }: { children: (files: ReactNode) => ReactNode }) {
  const s = strings.shelf;
  const router = useRouter();
  const [over, setOver] = useState(false);
  const [progress, setProgress] = useState<string | null>(null);
  const [error, setError] = useState<string | null>(null);
  const folder = useRef<HTMLInputElement>(null);
  const zip = useRef<HTMLInputElement>(null);

  async function send(gather: () => Promise<Dropped[]>): Promise<void> {
    setError(null);
    try {
      const what = whatToSend(await gather());
      const id =
        what.kind === 'zip'
          ? await sendZip(what.file, (sent) => setProgress(s.sendingZip(what.file.name, sent, what.file.size)))
          : await sendFolder(what, (done) => setProgress(s.sending(done, what.files.length)));
      router.push(`/c/${id}/survey`);
    } catch (problem) {
      setProgress(null);
      setError(problem instanceof Error ? problem.message : s.oneAtATime);
    }
  }

  const drag = (event: DragEvent) => {
    if (!event.dataTransfer.types.includes('Files')) return;
    event.preventDefault();
    setOver(event.type === 'dragover');
  };
  const picked = (list: FileList | null) =>
    send(async () => [...(list ?? [])].map((file) => ({ path: file.webkitRelativePath || file.name, file })));

  return (
    <div
      onDragOver={drag}
      onDragLeave={drag}
      onDrop={(event) => {
        drag(event);
        setOver(false);
        const { items } = event.dataTransfer;
        void send(() => filesOfDrop(items));
      }}
      className={over ? 'min-h-[80dvh] outline-3 outline-offset-8 outline-key outline-dashed' : 'min-h-[80dvh]'}
    >
      {children(
        <div className="mt-2 text-[14px] text-ink-2">
          <p>
            {over ? s.dropHere : s.drop}{' '}
            <button type="button" className="link" onClick={() => folder.current?.click()}>
              {s.chooseFolder}
            </button>{' '}
            ·{' '}
            <button type="button" className="link" onClick={() => zip.current?.click()}>
              {s.chooseZip}
            </button>
          </p>
          <input
            ref={folder}
            type="file"
            hidden
            multiple
            aria-label={s.chooseFolder}
            {...{ webkitdirectory: '' }}
            onChange={(e) => void picked(e.target.files)}
          />
          <input
            ref={zip}
            type="file"
            hidden
            multiple
            accept=".zip,.html,.htm,.xhtml,.docx,.pptx,.xlsx,.odt,.odp,.ods,.epub,.pdf,.eml,.md,.mdx,.svg"
            aria-label={s.chooseZip}
            onChange={(e) => void picked(e.target.files)}
          />
          <p role="status" className={progress ? 'mt-2 text-[15px] text-ink' : 'sr-only'}>
            {progress}
          </p>
          {error && (
            <p role="alert" className="mt-2 text-[15px] text-fails">
              {error}
            </p>
          )}
        </div>,
      )}
    </div>
  );
}
