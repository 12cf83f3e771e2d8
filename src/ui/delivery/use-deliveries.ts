import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useRouter } from 'next/navigation';
import { useEffect, useRef, useState } from 'react';
import type { Delivery, TargetId, Verification } from '@/contract/delivery';
import { fetchJson, queries } from '../data/queries';

/** Milliseconds between two looks at a delivery that is under way. */
const POLL_MS = 500;

const isUnderWay = ({ state }: Delivery): boolean => state === 'waiting' || state === 'running';

export interface DeliveriesNow {
  /** The latest first. */
  all: readonly Delivery[];
  /** Ids of those that were started on this page. */
  own: ReadonlySet<number>;
  /** What went wrong with the last thing that was asked for, in words; null where nothing did. */
  error: string | null;
  isBusy: boolean;
  fileOf(delivery: Delivery): string;
  start(target: TargetId, configuration?: Record<string, unknown>): Promise<boolean>;
  act(delivery: Delivery, action: 'stop' | 'resume' | 'undo'): Promise<void>;
  /** @returns what is there now; null where that could not be found out */
  verify(delivery: Delivery): Promise<Verification | null>;
}

/** The deliveries of a collection, followed while one is under way; the file of one that was started here is downloaded. */
export function useDeliveries(collection: string, drawn: readonly Delivery[]): DeliveriesNow {
  const client = useQueryClient();
  const router = useRouter();
  const [own, setOwn] = useState<ReadonlySet<number>>(new Set());
  const [error, setError] = useState<string | null>(null);
  const [isBusy, setBusy] = useState(false);
  const { data: all } = useQuery({
    ...queries.deliveries(collection),
    initialData: [...drawn],
    refetchInterval: ({ state }) => (state.data?.some(isUnderWay) ? POLL_MS : false),
  });
  const at = `/api/collections/${collection}/deliveries`;
  const fileOf = ({ id }: Delivery) => `${at}/${id}/file`;
  const awaited = useRef(new Set<number>());
  useEffect(() => {
    for (const delivery of all) {
      if (!awaited.current.has(delivery.id) || isUnderWay(delivery) || delivery.state === 'stopped') continue;
      awaited.current.delete(delivery.id);
      if (delivery.state === 'done' && delivery.file) downloadFrom(`${at}/${delivery.id}/file`);
      // What is in a folder by now waits no longer.
      if (delivery.folder !== null) router.refresh();
    }
  }, [all, at, router]);

  /** Says in words what goes wrong, and shows the deliveries as they are then. */
  const asked = async <T>(work: () => Promise<T>): Promise<T | null> => {
    setBusy(true);
    setError(null);
    try {
      return await work();
    } catch (failure) {
      setError((failure as Error).message);
      return null;
    } finally {
      await client.invalidateQueries({ queryKey: queries.deliveries(collection).queryKey });
      setBusy(false);
    }
  };
  const post = <T>(where: string, body?: unknown) =>
    fetchJson<T>(`${at}${where}`, { method: 'POST', ...(body === undefined ? {} : { body: JSON.stringify(body) }) });
  return {
    ...{ all, own, error, isBusy, fileOf },
    async start(target, configuration = {}) {
      const begun = await asked(() => post<Delivery>('', { target, configuration }));
      if (!begun) return false;
      awaited.current.add(begun.id);
      setOwn((now) => new Set(now).add(begun.id));
      return true;
    },
    async act(delivery, action) {
      if (action === 'resume') {
        awaited.current.add(delivery.id);
        setOwn((now) => new Set(now).add(delivery.id));
      }
      await asked(() => post(`/${delivery.id}/${action}`));
      if (action === 'undo') router.refresh();
    },
    verify: (delivery) => asked(() => post<Verification>(`/${delivery.id}/verify`)),
  };
}

/** As a press of a link would. */
function downloadFrom(address: string): void {
  const link = document.createElement('a');
  link.href = address;
  link.download = '';
  link.click();
}
