'use client';

import { QueryClient, QueryClientProvider, type Query } from '@tanstack/react-query';
import { createContext, useContext, useEffect, useRef, useState, type ReactNode } from 'react';
import type { ChangeEvent } from '@/contract/changes';

/** Whether Detto can be heard; null until it has been. */
const Connection = createContext<boolean | null>(null);

export const useConnection = (): boolean | null => useContext(Connection);

const newClient = () =>
  new QueryClient({
    defaultOptions: {
      queries: {
        // What changes is said by events; asking again at every look would only cost time.
        staleTime: Infinity,
        gcTime: 10 * 60_000,
        retry: (failures, error) => failures < 3 && (error as { status?: number }).status !== 404,
        refetchOnWindowFocus: false,
      },
    },
  });

/** Whether what is kept under a key may be another by now. */
function isTouched(query: Query, collection: string, { pictures }: ChangeEvent): boolean {
  const [of, what, picture] = query.queryKey;
  if (of !== collection || what === 'views') return false;
  return what !== 'desk' || pictures === null || pictures.includes(picture as number);
}

interface Props {
  collection: string;
  /** The state that the page was made of, as events give it. */
  state: number;
  children: ReactNode;
}

/** What the browser keeps of a collection, brought up to date whenever any window has changed something. */
export function DataProvider({ collection, state, children }: Props) {
  const [client] = useState(newClient);
  const [connected, setConnected] = useState<boolean | null>(null);
  /** The last state that was heard of. */
  const known = useRef(state);
  useEffect(() => {
    let events: EventSource | null = null;
    let isHello = true;
    const heard = ({ data }: MessageEvent<string>) => {
      setConnected(true);
      const event = JSON.parse(data) as ChangeEvent;
      const isNews = event.state !== known.current;
      known.current = event.state;
      const isFirst = isHello;
      isHello = false;
      // The first message of a connection says nothing of what was missed but the number.
      if (isFirst && !isNews) return;
      const what = isFirst ? { ...event, pictures: null } : event;
      // Where it names no picture, nothing that is kept here has changed; a page that the server makes may have.
      if (what.pictures === null || what.pictures.length > 0)
        void client.invalidateQueries({ predicate: (query) => isTouched(query, collection, what) });
      window.dispatchEvent(new CustomEvent('detto:changed'));
    };
    // Browsers hold six connections to a host at most (HTTP/1.1), so windows that nobody sees listen when they are seen again.
    const follow = () => {
      if (document.visibilityState === 'hidden') {
        events?.close();
        events = null;
      } else if (!events) {
        isHello = true;
        events = new EventSource(`/api/collections/${collection}/events`);
        events.onmessage = heard;
        events.onerror = () => {
          // It connects again by itself, and says then what it knows.
          isHello = true;
          setConnected(false);
        };
      }
    };
    follow();
    document.addEventListener('visibilitychange', follow);
    return () => {
      document.removeEventListener('visibilitychange', follow);
      events?.close();
    };
  }, [client, collection]);
  return (
    <Connection value={connected}>
      <QueryClientProvider client={client}>{children}</QueryClientProvider>
    </Connection>
  );
}
