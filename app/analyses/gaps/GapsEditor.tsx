import type { GapsResult } from '../../../core/analyses/gaps/finish.js'
import type { GapsQuestion } from '../../../core/analyses/gaps/question.js'
import { PeopleBreakdowns } from '../../editors/BreakdownsEditor.js'
import { StartEditor } from '../../editors/StartEditor.js'
import type { EditorProps } from '../view.js'

/** The editors of a usage interval's tokens. */
export function GapsEditor(props: EditorProps<GapsQuestion, GapsResult>) {
  return props.token.startsWith('breakdown') ? <PeopleBreakdowns {...props} /> : <StartEditor {...props} />
}
