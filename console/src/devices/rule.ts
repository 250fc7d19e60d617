import { useQuery } from '@tanstack/react-query';
import { useDeferredValue } from 'react';
import { answer, api, type Schemas } from '../api/client';

export type Subject = Schemas['RuleSubject'];
export type Relation = Schemas['RuleRelation'];
export type Reading = Schemas['RuleReading'];

/** A condition as it is put together: a row of the builder. */
export interface Row {
  not: boolean;
  /** What stands in the rule; kept for what the builder does not take apart. */
  text?: string;
  subject: string;
  of: string;
  relation: string;
  /** As it stands in the rule. */
  value: string;
}

/** The words a rule can be put together of; they do not change. */
export const useLanguage = () =>
  useQuery({
    queryKey: ['rule-language'],
    staleTime: Infinity,
    queryFn: () => answer(api.GET('/device-rules/language')),
  });

/** A rule as the service reads it, or nothing for none. */
export function useReading(rule: string, caret?: number) {
  const asked = useDeferredValue(rule);
  return useQuery({
    queryKey: ['devices', 'rule', asked, caret],
    enabled: asked.trim() !== '' || caret !== undefined,
    placeholderData: (before?: Reading) => before,
    queryFn: () => answer(api.POST('/device-rules/reading', { body: { rule: asked, caret } })),
  });
}

const quoted = (value: string) => `"${value.replaceAll('"', '""')}"`;

/** A value as it stands in a rule. */
export const plain = (value: string) =>
  /^[\p{L}\p{N}._/:+@-]+$/u.test(value) && !/^(and|or|not|empty|unknown)$/i.test(value)
    ? value
    : quoted(value);

/** Values as they stand in a rule: what is not quoted and has to be is. */
export function valued(text: string, relation?: Relation): string {
  const typed = text.trim();
  if (typed === '' || typed.startsWith('"') || ['span', 'day', 'version'].includes(relation?.value ?? '')) {
    return typed;
  }
  return relation?.several
    ? typed
        .split(',')
        .map((v) => v.trim())
        .filter((v) => v !== '')
        .map((v) => (v.startsWith('"') ? v : plain(v)))
        .join(', ')
    : /^(empty|unknown)$/.test(typed)
      ? typed
      : plain(typed);
}

const relationOf = (language: Subject[], row: Row) =>
  language.find((s) => s.word === row.subject)?.relations.find((r) => r.word === row.relation);

/** Rows as a rule. */
export function composed(language: Subject[], any: boolean, rows: Row[]): string {
  return rows
    .map((row) => {
      const said =
        row.text ??
        [row.subject, row.of && plain(row.of), row.relation, valued(row.value, relationOf(language, row))]
          .filter((word) => word !== '')
          .join(' ');
      return row.not ? `not ${said}` : said;
    })
    .join(any ? '\nor ' : '\nand ');
}

/** The rows of a rule that was read. */
export function rowsOf(language: Subject[], reading: Reading): Row[] {
  return reading.parts.map(({ not, text, condition: c }) => {
    const known = c && relationOf(language, { ...c, not, value: '' });
    if (!c || !known) {
      return { not, text, subject: '', of: '', relation: '', value: '' };
    }
    const value = known.value === 'span' ? c.values.join(' ') : c.values.map(plain).join(', ');
    return { not, subject: c.subject, of: c.of, relation: c.relation, value };
  });
}

/** How a relation is said when it is turned round. */
export const turned = (title: string) =>
  /^(is|has)\b/.test(title) ? title.replace(/^(is|has)/, '$1 not') : `not ${title}`;
