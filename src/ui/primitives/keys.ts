'use client';

import { useEffect, useRef } from 'react';

const SETTING = 'detto.single-keys';

/** Whether single keys act; a person can switch them off (WCAG 2.2, 2.1.4). */
export function singleKeysOn(): boolean {
  return localStorage.getItem(SETTING) !== 'off';
}

export function setSingleKeys(on: boolean): void {
  localStorage.setItem(SETTING, on ? 'on' : 'off');
}

function isEditing(target: EventTarget | null): boolean {
  return (
    target instanceof HTMLElement &&
    (target.isContentEditable ||
      target.closest('input:not([type=checkbox],[type=radio]), textarea, select, [role=listbox], [role=combobox]') !==
        null)
  );
}

/** Single keys of one place; they act while no field has the cursor and no dialog is open. */
export function useKeys(keys: Record<string, (event: KeyboardEvent) => void>): void {
  const latest = useRef(keys);
  useEffect(() => {
    latest.current = keys;
  });
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      if (event.ctrlKey || event.metaKey || event.altKey || event.defaultPrevented) return;
      if (isEditing(event.target) || document.querySelector('[role=dialog], [role=alertdialog]') || !singleKeysOn())
        return;
      const act = latest.current[event.key.length === 1 ? event.key.toLowerCase() : event.key];
      if (!act) return;
      event.preventDefault();
      act(event);
    };
    document.addEventListener('keydown', press);
    return () => document.removeEventListener('keydown', press);
  }, []);
}
