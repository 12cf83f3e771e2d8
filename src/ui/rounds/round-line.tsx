import { useQueryClient } from '@tanstack/react-query';
import Link from 'next/link';
import type { Round } from '@/contract/drafting';
import { fetchJson } from '../data/queries';
import { useActs } from '../frame/acts';
import { whatIsWrong } from '../frame/what-is-wrong';
import { strings } from '../strings';

type Turn = keyof typeof strings.rounds.turned;

/** One round: how far it is, what it cost, why it waits, and what can be done about it. */
export function RoundLine({ collection, round, now }: { collection: string; round: Round; now: string }) {
  const s = strings.rounds;
  const client = useQueryClient();
  const { did } = useActs();
  const name = s.name(round.id);
  const say = async (error: unknown) =>
    did((await whatIsWrong()) ?? (error instanceof Error && error.message ? error.message : strings.failed));
  const turn = async (to: Turn) => {
    try {
      await fetch(`/api/collections/${collection}/rounds/${round.id}`, {
        method: 'POST',
        body: JSON.stringify({ turn: to }),
      }).then(async (answer) => {
        if (!answer.ok) throw new Error(((await answer.json()) as { error: string }).error);
      });
      did(s.turned[to]);
    } catch (error) {
      await say(error);
    } finally {
      void client.invalidateQueries({ queryKey: [collection] });
    }
  };
  const undo = async () => {
    try {
      await fetchJson(`/api/collections/${collection}/acts/${round.act}`, {
        method: 'POST',
        body: JSON.stringify({ turn: 'undo' }),
      });
      did(s.undoneDone(round.id));
    } catch (error) {
      await say(error);
    } finally {
      void client.invalidateQueries({ queryKey: [collection] });
    }
  };
  const money = (amount: number) => s.money(amount, round.currency);
  const isOver = round.state === 'done' || round.state === 'stopped';
  const failed = round.failures.reduce((sum, f) => sum + f.items, 0);
  const facts = [
    s.states[round.state],
    s.progress(round.done, round.total),
    s.drafted(round.drafted),
    ...(round.silent > 0 ? [s.silent(round.silent)] : []),
    ...(round.state === 'running' && round.perMinute !== null ? [s.perMinute(round.perMinute)] : []),
    ...(round.currency ? [s.spent(money(round.spent), round.budget === null ? null : money(round.budget))] : []),
  ];
  const decided = round.accepted + round.edited + round.rejected > 0;
  const button = (to: Turn, label: string) => (
    <button type="button" data-turn className="link min-h-[24px]" onClick={() => void turn(to)}>
      {label}
      <span className="sr-only">: {name}</span>
    </button>
  );
  return (
    <li className="border-b border-hair py-3.5">
      <h3 className="flex flex-wrap items-baseline gap-x-2.5">
        <b>{name}</b>
        <span className="text-[14px] text-ink-2">
          {round.drafter ?? s.own}
          {round.model && ` (${round.model})`} · {strings.when(round.at, new Date(now))}
        </span>
      </h3>
      {!isOver && (
        <progress
          value={round.total === 0 ? 1 : round.done / round.total}
          aria-label={name}
          className="mt-1.5 block h-2 w-full max-w-[460px]"
        />
      )}
      <p className="mt-1">{facts.join(' · ')}</p>
      {round.reason && (
        <p role="status" className="mt-1 max-w-[80ch] text-look">
          {strings.message(round.reason)}
        </p>
      )}
      {round.failures.map((f) => (
        <p key={strings.message(f.reason)} className="mt-1 max-w-[80ch] text-[14px] text-fails">
          {s.failed(f.items, strings.message(f.reason))}
        </p>
      ))}
      {decided && (
        <p className="mt-1 text-[14px] text-ink-2">{s.decided(round.accepted, round.edited, round.rejected)}</p>
      )}
      <p className="mt-1.5 flex flex-wrap gap-x-5 gap-y-1 text-[14.5px]" data-focus-home="[data-turn]">
        {round.toRead > 0 && (
          <Link href={`/c/${collection}/rounds/read?round=${round.id}`} prefetch={false} className="font-semibold">
            {s.readRound(round.toRead)}
            <span className="sr-only">: {name}</span>
          </Link>
        )}
        {round.state === 'running' && button('pause', s.pause)}
        {round.state === 'paused' && button('resume', s.resume)}
        {!isOver && button('stop', s.stop)}
        {failed > 0 && round.state !== 'running' && button('retry', s.retry)}
        {round.toRead > 0 && isOver && (
          <button type="button" className="link min-h-[24px]" onClick={() => void undo()}>
            {s.undo}
            <span className="sr-only">: {name}</span>
          </button>
        )}
      </p>
    </li>
  );
}
