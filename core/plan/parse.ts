/**
 * Reads a plan from a value or from text and says what is wrong with it, with path and reason (and
 * line and column for text).
 */
import {
  findNodeAtLocation,
  parseTree,
  printParseErrorCode,
  type Node,
  type ParseError,
} from 'jsonc-parser'
import { sizeProblems } from './limits'
import { MOST_PROBLEMS, positions, unreadable, withoutMark, type Spot } from './jsonText'
import { migrate, type JsonObject } from './migrate'
import { referenceProblems, type PlanProblem } from './references'
import { collections, planSchema, type SitePlan } from './schema'
import { worldProblems } from './worldNames'
import type { z } from 'zod'

export type ParsedPlan = { ok: true; plan: SitePlan } | { ok: false; problems: PlanProblem[] }

/** A plan that comes in: read, and no larger than plans may be. */
export function parsePlan(value: unknown): ParsedPlan {
  const parsed = readPlan(value)
  const problems = parsed.ok ? [...sizeProblems(parsed.plan), ...worldProblems(parsed.plan)] : []
  return problems.length > 0 ? { ok: false, problems } : parsed
}

/** A plan that was stored: of whatever size it was allowed when it was. */
export function readPlan(value: unknown): ParsedPlan {
  if (typeof value !== 'object' || value === null || Array.isArray(value))
    return { ok: false, problems: [{ path: [], reason: 'a plan is a JSON object' }] }
  const migrated = migrate(value as JsonObject)
  if (!migrated.ok) return { ok: false, problems: [{ path: ['version'], reason: migrated.reason }] }
  // A document from before a kind was there has none of it.
  const none = Object.fromEntries(collections.map((c) => [c, {}]))
  const result = planSchema.safeParse({ ...none, ...migrated.document })
  if (!result.success)
    return {
      ok: false,
      problems: result.error.issues.flatMap(inOurWords).slice(0, MOST_PROBLEMS),
    }
  const problems = referenceProblems(result.data)
  return problems.length > 0 ? { ok: false, problems } : { ok: true, plan: result.data }
}

/** An issue of the schema as one would say it, at the very field. */
function inOurWords(issue: z.core.$ZodIssue): PlanProblem[] {
  const path = issue.path as (string | number)[]
  if (issue.code === 'unrecognized_keys')
    return issue.keys.map((key) => ({
      path: [...path, key],
      reason: `a plan has no '${key}' here`,
    }))
  if (issue.code === 'invalid_type' && / received undefined$/.test(issue.message))
    return [{ path, reason: `'${String(path.at(-1) ?? 'it')}' is missing` }]
  return [{ path, reason: issue.message }]
}

export interface TextProblem extends PlanProblem, Spot {}

export type ParsedText = { ok: true; plan: SitePlan } | { ok: false; problems: TextProblem[] }

const wordsFor: Record<string, string> = {
  InvalidSymbol: 'a word that JSON does not know',
  InvalidNumberFormat: 'not a number',
  PropertyNameExpected: 'a property name is expected',
  ValueExpected: 'a value is expected',
  ColonExpected: 'a colon is expected',
  CommaExpected: 'a comma is expected',
  CloseBraceExpected: 'a closing brace is expected',
  CloseBracketExpected: 'a closing bracket is expected',
  EndOfFileExpected: 'the document should end here',
  InvalidCommentToken: 'JSON has no comments',
  UnexpectedEndOfComment: 'JSON has no comments',
  UnexpectedEndOfString: 'a quotation mark is missing',
  UnexpectedEndOfNumber: 'the number is cut off',
  InvalidUnicode: 'a broken \\u sequence',
  InvalidEscapeCharacter: 'a broken escape',
  InvalidCharacter: 'a character that cannot stand in a string',
}

export function parsePlanText(given: string): ParsedText {
  const text = withoutMark(given)
  const place = positions(text)
  const not = unreadable(text)
  if (not) return { ok: false, problems: [{ path: [], reason: not.reason, ...place(not.offset) }] }
  const errors: ParseError[] = []
  const root = parseTree(text, errors, { disallowComments: true, allowTrailingComma: false })
  if (errors.length > 0 || !root) {
    if (text.trim() === '')
      return {
        ok: false,
        problems: [{ path: [], reason: 'the file is empty', line: 1, column: 1 }],
      }
    return {
      ok: false,
      problems: errors.slice(0, MOST_PROBLEMS).map((e) => ({
        path: [],
        reason: wordsFor[printParseErrorCode(e.error)] ?? 'not JSON',
        ...place(e.offset),
      })),
    }
  }
  const impossible = impossibleKeys(root)
    .slice(0, MOST_PROBLEMS)
    .map(({ path, reason, offset }) => ({ path, reason, ...place(offset) }))
  if (impossible.length > 0) return { ok: false, problems: impossible }
  const parsed = parsePlan(JSON.parse(text))
  if (parsed.ok) return parsed
  return {
    ok: false,
    problems: parsed.problems.map((p) => ({ ...p, ...place(nearest(root, p.path).offset) })),
  }
}

/** The node of a path, or of the longest part of it that is in the document. */
function nearest(root: Node, path: readonly (string | number)[]): Node {
  for (let n = path.length; n > 0; n--) {
    const node = findNodeAtLocation(root, path.slice(0, n))
    if (node) return node
  }
  return root
}

/** Keys that stand twice in an object, and one that would be lost without a word. */
function impossibleKeys(root: Node): { path: string[]; offset: number; reason: string }[] {
  const found: { path: string[]; offset: number; reason: string }[] = []
  const walk = (node: Node, path: string[]): void => {
    const seen = new Set<string>()
    for (const child of node.children ?? []) {
      if (node.type !== 'object') {
        walk(child, path)
        continue
      }
      const [key, value] = child.children ?? []
      const here = [...path, String(key?.value)]
      if (key?.value === '__proto__')
        found.push({ path: here, offset: child.offset, reason: "'__proto__' can be no id" })
      else if (seen.has(String(key?.value)))
        found.push({
          path: here,
          offset: child.offset,
          reason: `'${here.at(-1)}' stands here twice; ids must be unique`,
        })
      seen.add(String(key?.value))
      if (value) walk(value, here)
    }
  }
  walk(root, [])
  return found
}
