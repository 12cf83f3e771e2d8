'use client';

import { useState } from 'react';
import type { Purpose } from '@/core/model/appearance';
import { QUESTIONS, walk, type Answers, type QuestionId } from '@/core/purpose/decision-tree';
import { strings } from '../strings';

interface Props {
  known: Answers;
  settle(purpose: Purpose): Promise<void>;
}

/** The W3C tutorial's questions, answered from the evidence as far as it goes; a person may answer otherwise. */
export function Questions({ known, settle }: Props) {
  const s = strings.desk.questions;
  const [given, setGiven] = useState<Partial<Record<QuestionId, string>>>({});
  const { asked, purpose } = walk(given, known);
  return (
    <details className="mt-1 text-[13.5px]">
      <summary className="min-h-6 cursor-pointer text-ink-2">{s.walk}</summary>
      <ol className="mt-1 grid gap-2">
        {asked.map((id, i) => {
          const answer = given[id] ?? known[id]?.answer;
          return (
            <li key={id}>
              <fieldset>
                <legend>
                  {i + 1}. {s.ask[id]}
                </legend>
                <span className="flex flex-wrap gap-x-4">
                  {QUESTIONS[id].answers.map((option) => (
                    <label key={option.answer} className="inline-flex min-h-6 items-center gap-1.5">
                      <input
                        type="radio"
                        name={`question ${id}`}
                        checked={answer === option.answer}
                        onChange={() => setGiven({ ...given, [id]: option.answer })}
                      />
                      {s.answers[id]?.[option.answer]}
                    </label>
                  ))}
                </span>
                {known[id] && given[id] === undefined && (
                  <span className="text-ink-2">{s.reason(strings.message(known[id].reason))}</span>
                )}
              </fieldset>
            </li>
          );
        })}
      </ol>
      <p className="mt-2" role="status">
        {purpose ? s.leads(strings.desk.purposes[purpose].toLowerCase()) : s.open}
      </p>
      {purpose && (
        <button type="button" className="link" onClick={() => void settle(purpose)}>
          {s.settle(strings.desk.purposes[purpose].toLowerCase())}
        </button>
      )}
    </details>
  );
}
