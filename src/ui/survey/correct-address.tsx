import { useId, useState } from 'react';
import { useSentForm, type FormAction } from '../primitives/use-sent-form';
import { whileBusy } from '../primitives/while-busy';
import { strings } from '../strings';

/** The address of a survey that found nothing, to be corrected where it stands. */
export function CorrectAddress({ id, root, correct }: { id: string; root: string; correct: FormAction }) {
  const s = strings.survey;
  const [where, setWhere] = useState(root);
  const { answer, send, isPending } = useSentForm(correct);
  const errorId = useId();
  return (
    <form onSubmit={send} className="mt-3 flex max-w-[70ch] flex-wrap items-baseline gap-x-3 gap-y-2">
      <input type="hidden" name="collection" value={id} />
      <label className="flex min-w-0 flex-1 basis-[300px] flex-wrap items-baseline gap-x-2">
        {s.correctedAddress}
        <input
          name="where"
          required
          value={where}
          onChange={(e) => setWhere(e.target.value)}
          autoComplete="off"
          spellCheck={false}
          aria-invalid={answer.error !== null}
          aria-describedby={answer.error ? errorId : undefined}
          className="field min-w-0 flex-1 font-code text-[15px]"
        />
      </label>
      <button type="submit" className="button" {...whileBusy(isPending)}>
        {s.surveyCorrected}
      </button>
      {answer.error && (
        <p id={errorId} role="alert" className="basis-full text-fails">
          {answer.error}
        </p>
      )}
    </form>
  );
}
