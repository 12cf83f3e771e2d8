/** @jest-environment jsdom */
import { cleanup, render, screen, within } from '@testing-library/react';
import { RULES, ruleById } from '@/core/rules';
import { plain } from '@/core/model/message';
import { strings } from '../strings';
import { withoutNext } from '../testing/next';

/** A rule's page: its words, sources and settings, and what it finds in its own examples. */
withoutNext();
const { RulePage } = await import('./rule-page');
const { RuleList } = await import('./rule-list');
afterEach(cleanup);

const show = (id: string, more: Partial<Parameters<typeof RulePage>[0]> = {}) => {
  const rule = ruleById(id)!;
  return render(
    <RulePage
      collection="isle"
      rule={rule}
      failures={rule.examples.fails.map((e) => plain(`Finds: ${e.message}`))}
      found={0}
      ignored={0}
      style={{}}
      {...more}
    />,
  );
};

test.each(RULES.map((r) => [r.id, r] as const))(
  '%s shows its sources and what it finds in each example',
  (id, rule) => {
    const { container } = show(id);
    screen.getByRole('heading', { level: 1, name: rule.title });
    for (const { name } of rule.sources) screen.getByText(name);
    for (const { message } of rule.examples.fails) expect(container.textContent).toContain(`Finds: ${message}`);
    const examples = [...container.querySelectorAll('code')].map((c) => c.textContent);
    expect(examples).toEqual([...rule.examples.fails, ...rule.examples.passes].flatMap((e) => e.html));
  },
);

test('its settings stand there as people set them', () => {
  show('boilerplate', { style: { boilerplate: { parameters: { share: 0.45 } } } });
  const terms = screen.getAllByRole('term').map((t) => t.textContent);
  expect(terms).toEqual(['Percent of all texts', 'Texts at least']);
  expect(screen.getAllByRole('definition').map((d) => d.textContent)).toEqual(['45', '10']);
  cleanup();
  show('house-style', { style: { 'house-style': { parameters: { banned: ['click here'], firstLetter: 'upper' } } } });
  const values = screen.getAllByRole('definition').map((d) => d.textContent);
  expect(values[0]).toBe('click here');
  expect(values).toContain('a capital');
  expect(values).toContain('nothing');
});

test('what it found here is a link away, and an ignored finding is counted', () => {
  show('echo', { found: 3, ignored: 2 });
  expect(screen.getByRole('link', { name: 'Show them in the Galley' }).getAttribute('href')).toBe(
    '/c/isle/galley?rule=echo',
  );
  screen.getByText(/found on 3 pictures here/);
  screen.getByText(/2 findings of it are ignored\./);
  cleanup();
  show('echo', { style: { echo: { off: true } } });
  screen.getByText(/It is off here\./);
  expect(screen.queryByRole('link', { name: 'Show them in the Galley' })).toBeNull();
});

test('the list has every rule in its group, and tells those that are off or found something', () => {
  const rules = RULES.map(({ id, title, group, gives }) => ({
    id,
    title,
    group,
    gives,
    off: id === 'echo',
    found: id === 'no-alt' ? 4 : 0,
  }));
  render(<RuleList collection="isle" rules={rules} />);
  const links = screen.getAllByRole('link').map((a) => a.getAttribute('href'));
  for (const { id } of RULES) expect(links).toContain(`/c/isle/rules/${id}`);
  for (const group of Object.values(strings.rules.groups)) screen.getByRole('heading', { name: group });
  const item = screen.getByRole('link', { name: 'Missing alt text' }).closest('li')!;
  expect(within(item).getByText(/4/)).toBeTruthy();
});
