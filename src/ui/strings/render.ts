import { IntlMessageFormat } from 'intl-messageformat';
import type { Message, MessageValue } from '@/core/model/message';

/**
 * Renders messages in one language.
 *
 * @param templates ICU message formats (Unicode Technical Standard 35, part 9) by the ids of messages
 * @param locale BCP 47
 * @returns a function that never throws: a message whose id the language does not have is shown by its id
 */
export function messageRenderer(
  templates: Readonly<Record<string, string>>,
  locale: string,
): (message: Message) => string {
  // Each is parsed when it is first needed, since a page shows few of them.
  const formats = new Map<string, IntlMessageFormat>();
  const list = new Intl.ListFormat(locale, { type: 'unit', style: 'short' });
  const languages = new Intl.DisplayNames([locale], { type: 'language' });

  const shown = (value: MessageValue): string | number => {
    if (typeof value === 'string' || typeof value === 'number') return value;
    if (Array.isArray(value)) return list.format((value as readonly MessageValue[]).map((v) => String(shown(v))));
    return render(value as Message);
  };

  function render({ id, values = {} }: Message): string {
    if (id === 'language') return languages.of(String(values['tag'])) ?? String(values['tag']);
    const template = templates[id];
    if (template === undefined) return id;
    let format = formats.get(id);
    if (!format) formats.set(id, (format = new IntlMessageFormat(template, locale, undefined, { ignoreTag: true })));
    const all = Object.entries(values).map(([name, value]) => [name, value === undefined ? '' : shown(value)] as const);
    try {
      return String(format.format(Object.fromEntries(all)));
    } catch {
      // A row that was stored by another version may lack a value.
      return id;
    }
  }
  return render;
}
