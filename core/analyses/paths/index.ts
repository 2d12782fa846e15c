import { explainPaths } from './explain.js'
import { pickOf } from '../../questions/pickOf.js'
import type { Analysis } from '../analysis.js'
import { pathsFindings } from './findings.js'
import { finishPaths, type PathsResult } from './finish.js'
import { pathsMark, type PathsMark } from './marks.js'
import { nextPaths, planPaths, wantedNode, type PathsPart } from './plan.js'
import { pathMarks, paths as printedPaths } from './printed.js'
import { usualPaths, type PathNode, type PathsQuestion } from './question.js'
import { mergePaths, momentOfPaths, scanPaths, selectPaths } from './scan.js'
import { parsePaths, pathsSchema } from './schema.js'
import type { PathsPlan } from './shape.js'
import { spokenPaths } from './spoken.js'

export const paths: Analysis<PathsQuestion, PathsMark, PathsPlan, PathsPart, PathsResult> = {
  ...spokenPaths,
  explain: explainPaths,
  schema: pathsSchema,
  markSchemas: pathsMark.options,
  usual: usualPaths,
  // Several events are where a way begins and where it has to get.
  turn: {
    picks: ({ start, end }) => [pickOf(start), ...(end ? [pickOf(end)] : [])],
    about: (picks) => ({
      ...usualPaths(''),
      start: picks[0],
      ...(picks.length > 1 ? { end: picks.at(-1)!, steps: 5 } : {}),
    }),
    splitBy: (splits) => ({ breakdowns: splits.slice(0, 1) }),
  },
  parse: parsePaths,
  plan: planPaths,
  scan: scanPaths,
  merge: mergePaths,
  anyOrder: true,
  next: nextPaths,
  finish: finishPaths,
  reads: ({ pass }) => pass === 'count',
  select: selectPaths,
  moment: momentOfPaths,
  wants: (mark) => {
    const nodes: object[] = mark.kind === 'way' ? mark.nodes : mark.kind === 'node' ? [mark.place, mark.from ?? {}] : []
    return nodes.filter((node): node is PathNode => 'event' in node).map(wantedNode)
  },
  printed: printedPaths,
  printedMarks: pathMarks,
  findings: pathsFindings,
}
