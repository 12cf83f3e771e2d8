'use client';

import { Select } from 'radix-ui';
import type { ReactNode } from 'react';
import { styleNonce } from '../frame/style-nonce';
import { strings } from '../strings';

interface Option {
  value: string;
  label: string;
  /** How many pictures it would show. */
  count?: number;
}

interface Props {
  /** What is chosen, for those who hear it: "State". */
  label: string;
  value: string;
  options: readonly Option[];
  onChange(value: string): void;
}

/** Asks for the nonce when the list opens; before, the page may not have set it. */
function List({ children }: { children: ReactNode }) {
  return <Select.Viewport nonce={styleNonce()}>{children}</Select.Viewport>;
}

/** A choice inside a sentence: its value stands as underlined words, and opens as a listbox. */
export function Pick({ label, value, options, onChange }: Props) {
  return (
    <Select.Root value={value} onValueChange={onChange}>
      <Select.Trigger
        className="pick"
        aria-label={`${label}: ${options.find((o) => o.value === value)?.label ?? value}`}
      >
        <Select.Value>{options.find((o) => o.value === value)?.label ?? value}</Select.Value>
      </Select.Trigger>
      <Select.Portal>
        <Select.Content position="popper" sideOffset={4} className="pick-list">
          <List>
            {options.map((o) => (
              <Select.Item key={o.value} value={o.value} textValue={o.label} className="pick-item">
                <Select.ItemText>
                  <span>{o.label}</span> {o.count !== undefined && <span className="count">{strings.n(o.count)}</span>}
                </Select.ItemText>
              </Select.Item>
            ))}
          </List>
        </Select.Content>
      </Select.Portal>
    </Select.Root>
  );
}
