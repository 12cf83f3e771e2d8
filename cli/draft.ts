import { UNLIMITED } from '@/server/drafting/ledger';
import { randomUUID } from 'node:crypto';
import path from 'node:path';
import { activeRules, auditAppearance, type RuleStyle } from '@/core/rules/audit';
import { NOTHING_KNOWN, type DraftInput } from '@/core/draft/compose';
import { gapsIn, type DraftEvidence, type Gap } from '@/core/draft/draft';
import { faultInWords, WORD_RULES } from '@/core/draft/faults';
import { gradeOf, sharesNothing } from '@/core/draft/grade';
import { DEFAULT_INSTRUCTIONS } from '@/core/draft/prompt';
import { draftLimitOf } from '@/core/house-style/house-style';
import { groupBy } from '@/core/group-by';
import { positionOf } from '@/core/model/appearance';
import { withWords } from '@/core/model/wording';
import { sharedNameParts } from '@/core/picture/file-name-words';
import { isFormula } from '@/core/purpose/formula';
import { proposePurpose } from '@/core/purpose/propose';
import { RULES } from '@/core/rules';
import type { RuleContext } from '@/core/model/rule-context';
import { languageOf } from '@/core/rules/support/words';
import { createLanguageDetector } from '@/core/words/page-language';
import { ownTitle } from '@/core/words/page-title';
import { isTex } from '@/core/words/tex';
import { metadataWords } from '@/server/drafting/metadata-words';
import { DraftingError } from '@/server/drafting/drafting-error';
import type { DraftRequest, DraftResult } from '@/server/drafting/drafter';
import { evidenceDraft } from '@/server/drafting/evidence-drafter';
import { backOff, ModelDrafter } from '@/server/drafting/model-drafter';
import { hostOf, isLocal } from '@/server/drafting/service-address';
import { formulaLanguage, openFormulaSpeech } from '@/server/language/formula-speech';
import { parseAllowed } from '@/server/net/allowed';
import { closeReaders } from '@/server/workers/reader-pool';
import { strings } from '@/ui/strings';
import type { AuditOptions, DraftOptions } from './arguments';
import { gather, type Gathered } from './audit';
import { surveyedFrom, type Surveyed } from './report';
import { serviceIn, type ServiceInFile } from './service-file';
import { isBlank } from '../src/core/white-space';

export interface DraftReport {
  drafts: {
    /** As `audit` numbers them. */
    appearance: string;
    page: string;
    line: number;
    src: string | null;
    /** Null where nothing honest can be said, and for a picture that is decorative. */
    text: string | null;
    decorative: boolean;
    gaps: Gap[];
    evidence: { from: DraftEvidence['from']; text: string }[];
    /** From 0 to 1. */
    confidence: number;
    findings: string[];
  }[];
  failures: { appearance: string; page: string; reason: string }[];
}

/** Attempts at one picture while a service fails. */
const ATTEMPTS = 3;

/**
 * Surveys a target without a database and drafts its alt texts.
 *
 * @throws Error in words when the target or the service file cannot be read, or nobody has agreed to what would be sent
 */
export async function draft(
  options: AuditOptions,
  { service: file, only, consent }: DraftOptions,
  cwd: string,
  progress: (line: string) => void,
): Promise<DraftReport> {
  const service = file === undefined ? null : await serviceIn(path.resolve(cwd, file));
  if (service) assertConsent(service, consent);
  const gathered = await gather(options, cwd, progress, service === null ? 'report' : 'files');
  const surveyed = surveyedFrom(gathered.store, gathered.analysis, gathered.style);
  const { know } = surveyed;
  const active = activeRules(
    gathered.style,
    know,
    RULES.filter((r) => WORD_RULES.includes(r.id)),
  );
  const contexts = createLanguageDetector(know)(surveyed.contexts);
  const wanted = contexts.filter((c) => only === 'all' || needsWords(c, gathered.style, surveyed));
  const requests = await requestsFor(wanted, contexts, surveyed, gathered);
  const faultsOf = (context: RuleContext, text: string) =>
    auditAppearance({ ...context, appearance: withWords(context.appearance, text) }, active);
  const ask = service ? modelFor(service, options, gathered, wanted, faultsOf) : null;
  const report: DraftReport = { drafts: [], failures: [] };
  const entries = await Promise.all(
    requests.map(
      async (request, i): Promise<[DraftReport['drafts'][number] | null, DraftReport['failures'][number] | null]> => {
        const context = wanted[i]!;
        const base = { appearance: context.id, page: context.page.path };
        let made: DraftResult;
        try {
          const { purpose, purposeIsSure } = request.known;
          made = ask && !(purpose === 'decorative' && purposeIsSure) ? await ask(request) : evidenceDraft(request);
        } catch (error) {
          if (!(error instanceof DraftingError)) throw error;
          return [null, { ...base, reason: strings.message(error.reason) }];
        }
        const findings = made.text === null ? [] : faultsOf(context, made.text);
        const doubtful = made.text !== null && sharesNothing(made.text, request.known, context.page.title);
        return [
          {
            ...base,
            line: positionOf(context.appearance).line,
            src: surveyed.sources.get(context.id) ?? context.appearance.markup.src,
            text: made.text,
            decorative: made.decorative,
            gaps: made.text === null ? [] : gapsIn(made.text),
            evidence: made.evidence.map(({ from, text }) => ({
              from,
              text: typeof text === 'string' ? text : strings.message(text),
            })),
            confidence: Math.round(100 * gradeOf(made, findings, doubtful)) / 100,
            findings: findings.map((f) => f.rule),
          },
          null,
        ];
      },
    ),
  );
  closeReaders();
  for (const [drafted, failure] of entries) {
    if (drafted) report.drafts.push(drafted);
    if (failure) report.failures.push(failure);
  }
  return report;
}

/** @throws Error in words when pictures would leave this machine and nobody has agreed */
function assertConsent({ service }: ServiceInFile, consent: string | undefined): void {
  const host = hostOf(service.address);
  if (isLocal(service.address) || consent === host || consent === new URL(service.address).hostname) return;
  throw new Error(`Pictures and the words around them would be sent to ${host}. Agree to that with --consent ${host}.`);
}

/** No alt text, a blank one, or words that are a file name or a placeholder. */
function needsWords(context: RuleContext, style: RuleStyle, { know }: Surveyed): boolean {
  const { markup, state } = context.appearance;
  if (state === 'missing' || (markup.alt !== null && markup.alt !== '' && isBlank(markup.alt))) return true;
  const rules = RULES.filter((r) => r.id === 'file-name' || r.id === 'placeholder');
  return auditAppearance(context, activeRules(style, know, rules)).some((f) => f.outcome === 'failed');
}

/** What a drafter is given for each appearance, in their order. */
async function requestsFor(
  wanted: readonly RuleContext[],
  all: readonly RuleContext[],
  { reach, know }: Surveyed,
  { style, analysis }: Gathered,
): Promise<DraftRequest[]> {
  const failing = activeRules(
    style,
    know,
    RULES.filter((r) => r.scope === 'appearance'),
  );
  const fine = (c: RuleContext) =>
    c.appearance.state === 'described' && !auditAppearance(c, failing).some((f) => f.outcome !== 'advice');
  const byPicture = groupBy(all, (c) => c.picture?.id);
  const byGroup = groupBy(all, (c) => c.picture?.analysis?.similarGroup ?? undefined);
  const sharedNames = sharedNameParts([...new Set(all.flatMap((c) => c.appearance.markup.src ?? []))]);
  const limit = draftLimitOf(style);
  const formulas = await formulasOf(wanted);
  return wanted.map((context, i) => {
    const { appearance: a, picture, page } = context;
    const { purpose, evidence, sure } = proposePurpose(a, picture, picture ? (reach.get(picture.id)?.size ?? 1) : 1);
    const language = languageOf(context);
    const same = (c: RuleContext) => c !== context && languageOf(c) === language && fine(c);
    const group = picture?.analysis?.similarGroup;
    const look = picture?.sha256 ? analysis.looks.get(picture.sha256) : undefined;
    const known: DraftInput = {
      ...NOTHING_KNOWN,
      appearance: a,
      purpose,
      purposeIsSure: sure >= SURE,
      purposeEvidence: evidence,
      purposeSure: sure,
      language,
      reach: picture ? (reach.get(picture.id)?.size ?? 1) : 1,
      picture,
      colours: look?.colours ?? [],
      targetTitle: context.targetTitle && ownTitle(context.targetTitle),
      sharedNames,
      elsewhere: picture
        ? (byPicture.get(picture.id) ?? [])
            .filter((c) => same(c) && c.purpose === context.purpose)
            .map((c) => c.appearance.accessible.name)
        : [],
      lookAlike:
        group === undefined || group === null
          ? null
          : ((byGroup.get(group) ?? []).find((c) => c.picture?.id !== picture?.id && same(c))?.appearance.accessible
              .name ?? null),
      formula: formulas[i] ?? null,
      limit,
    };
    return {
      appearanceId: i,
      known,
      about: {
        pageTitle: page.title,
        style,
        instructions: DEFAULT_INSTRUCTIONS,
        examples: [],
        metadata: metadataWords(look?.details?.metadata ?? {}),
      },
      current: a.accessible.name || null,
      sha256: picture?.sha256 ?? null,
    };
  });
}

/** From so sure on, a proposed purpose counts as what the picture does. */
const SURE = 0.6;

/** Formulas in words; null for what shows none, or has no source that can be said. */
async function formulasOf(contexts: readonly RuleContext[]): Promise<(string | null)[]> {
  const sources = contexts.map((c) => {
    const { appearance: a } = c;
    const tex = a.markup.alt ?? a.accessible.name;
    const language = formulaLanguage(languageOf(c) ?? '');
    return language && isFormula(a) && tex !== '' && isTex(tex, Boolean(a.context.formula)) ? { tex, language } : null;
  });
  const languages = new Set(sources.flatMap((s) => s?.language ?? []));
  if (languages.size === 0) return contexts.map(() => null);
  const { speech } = await openFormulaSpeech(languages);
  return sources.map((s) => s && speech(s.tex, s.language));
}

/** Asks a service for one draft; appearances of one picture for one purpose with the same words around them share an answer. */
function modelFor(
  { service, key }: ServiceInFile,
  options: AuditOptions,
  { files }: Gathered,
  contexts: readonly RuleContext[],
  faultsOf: (
    context: RuleContext,
    text: string,
  ) => { rule: string; outcome: string; span?: { start: number; end: number } }[],
): (request: DraftRequest) => Promise<DraftResult> {
  const run = randomUUID();
  const allowed = [
    ...options.allowHosts.map(parseAllowed),
    // Whoever names a service on this machine means it.
    ...(isLocal(service.address) ? [parseAllowed(hostOf(service.address))] : []),
  ];
  const drafter = new ModelDrafter({
    ...{ service, collectionId: '', roundId: null, prompt: '', ledger: UNLIMITED },
    access: {
      keyOf: async () => key,
      fileOf: async (sha256) => {
        const bytes = files.get(sha256);
        if (!bytes) throw new DraftingError('picture', { id: 'drafting.no-file' });
        return bytes;
      },
      allowed: () => allowed,
    },
    faultsOf: async ({ appearanceId }, { text }) =>
      text === null
        ? []
        : faultsOf(contexts[appearanceId]!, text)
            .filter((f) => f.outcome !== 'advice')
            .map((f) => faultInWords(f.rule, f.span ? text.slice(f.span.start, f.span.end) : null)),
  });
  const asked = new Map<string, Promise<DraftResult>>();
  const one = async (request: DraftRequest): Promise<DraftResult> => {
    const wish = { key: `detto-${run}-${request.appearanceId}`, priority: 0, hint: null, wanted: [], current: null };
    for (let attempt = 1; ; attempt++) {
      try {
        return await drafter.draft(request, wish, new AbortController().signal);
      } catch (error) {
        if (!(error instanceof DraftingError) || !error.mayPass || attempt >= ATTEMPTS) throw error;
        await backOff(attempt, new AbortController().signal);
      }
    }
  };
  return (request) => {
    const { appearance: a, purpose, language, picture } = request.known;
    const { caption, before, after, control } = a.context;
    const same = JSON.stringify([
      picture?.id,
      purpose,
      language,
      control?.href,
      caption,
      before.slice(-120),
      after.slice(0, 120),
    ]);
    let answer = asked.get(same);
    if (!answer) asked.set(same, (answer = one(request)));
    return answer;
  };
}
