'use client';

import { useCombobox } from 'downshift';
import { Popover } from 'radix-ui';
import { useId, useMemo, useState, type ReactNode } from 'react';
import { isDialogOpen } from '../frame/focus';
import { strings } from '../strings';

export interface Option {
  value: string;
  label: string;
  /** How many pictures it would show. */
  count?: number | undefined;
  /** Heading under which it stands; options of one group come together. */
  group?: string | undefined;
}

interface Props {
  /** What is chosen, for those who hear it: "State". */
  label: string;
  value: string;
  /** What stands in the sentence. */
  children: ReactNode;
  /** Null while they are on their way. */
  options: readonly Option[] | null;
  /** Called when the list opens or closes. */
  onOpen?(open: boolean): void;
  /** Called with what is typed, where the options come from a server that narrows them. */
  onFind?(text: string): void;
  onChange(value: string): void;
  className?: string;
  /** Has the focus once the list has closed, where it is not the choice itself: what was chosen there. */
  next?(): HTMLElement | null;
}

/** With fewer options, there is nothing to narrow. */
const MANY = 8;

/**
 * A choice inside a sentence: its value stands as underlined words, and opens a list that typing narrows (ARIA Authoring
 * Practices, editable combobox with list autocomplete).
 */
export function Choice(props: Props) {
  const { label, value, children, onOpen, className = 'pick', next } = props;
  const [open, setOpen] = useState(false);
  const show = (wanted: boolean) => {
    setOpen(wanted);
    onOpen?.(wanted);
  };
  return (
    <Popover.Root open={open} onOpenChange={show}>
      <Popover.Trigger className={className} aria-haspopup="listbox" data-value={value}>
        <span className="sr-only">{label}: </span>
        {children}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="start"
          sideOffset={4}
          className="pick-list"
          aria-label={label}
          onCloseAutoFocus={(event) => {
            // A dialog that was opened from the list has the focus by now.
            const to = next?.() ?? null;
            if (to || isDialogOpen()) event.preventDefault();
            if (!isDialogOpen()) to?.focus();
          }}
        >
          <List {...props} close={() => show(false)} />
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

function List({ label, value, options, onFind, onChange, close }: Props & { close(): void }) {
  const [text, setText] = useState('');
  const groupId = useId();
  const found = useMemo(() => {
    const words = text.toLowerCase().split(/\s+/).filter(Boolean);
    const all = options ?? [];
    return onFind ? [...all] : all.filter((o) => words.every((w) => o.label.toLowerCase().includes(w)));
  }, [options, text, onFind]);
  const { getInputProps, getMenuProps, getItemProps, getLabelProps, highlightedIndex } = useCombobox<Option>({
    items: found,
    isOpen: true,
    defaultHighlightedIndex: 0,
    initialHighlightedIndex: Math.max(
      0,
      found.findIndex((o) => o.value === value),
    ),
    inputValue: text,
    itemToString: (o) => o?.label ?? '',
    onSelectedItemChange: ({ selectedItem }) => {
      if (!selectedItem) return;
      close();
      onChange(selectedItem.value);
    },
    stateReducer: (_, { changes, type }) =>
      // The list is as long open as it is shown; what is chosen does not become the text.
      type === useCombobox.stateChangeTypes.InputChange ? changes : { ...changes, inputValue: text },
  });
  const isLong = onFind !== undefined || (options?.length ?? 0) > MANY;
  return (
    <>
      <label {...getLabelProps()} className="sr-only">
        {label}
      </label>
      <input
        {...getInputProps({
          autoFocus: true,
          // At once, or letters that come fast are lost.
          onChange: (e) => {
            setText(e.currentTarget.value);
            onFind?.(e.currentTarget.value);
          },
        })}
        className={isLong ? 'field mx-3 mb-1 w-[calc(100%-24px)]' : 'sr-only'}
        placeholder={isLong ? strings.choice.narrow : undefined}
      />
      <ul {...getMenuProps()} data-inline className="max-h-[360px] overflow-y-auto">
        {found.map((o, i) => {
          const isFirst = o.group !== undefined && o.group !== found[i - 1]?.group;
          return (
            <li
              key={o.value}
              {...getItemProps({ item: o, index: i, 'aria-selected': o.value === value })}
              aria-describedby={o.group === undefined ? undefined : `${groupId}-${o.group}`}
              className="pick-item"
              data-highlighted={highlightedIndex === i ? '' : undefined}
              data-state={o.value === value ? 'checked' : undefined}
            >
              {isFirst && (
                <b id={`${groupId}-${o.group}`} className="pick-group">
                  {o.group}
                </b>
              )}
              <span>
                <span>{o.label}</span>
                {o.count !== undefined && <span className="count">{strings.n(o.count)}</span>}
              </span>
            </li>
          );
        })}
      </ul>
      <p role="status" className="px-3.5 py-1 text-[14px] text-ink-2 empty:hidden">
        {options === null ? strings.galley.loading : found.length === 0 ? strings.choice.none : ''}
      </p>
    </>
  );
}
