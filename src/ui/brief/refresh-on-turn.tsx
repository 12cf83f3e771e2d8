'use client';

import { useRouter } from 'next/navigation';
import { useEffect } from 'react';
import { useActs } from '../frame/acts';

/** Draws the Brief again when something is undone or redone. */
export function RefreshOnTurn() {
  const router = useRouter();
  const { onTurn } = useActs();
  useEffect(() => onTurn(() => router.refresh()), [onTurn, router]);
  return null;
}
