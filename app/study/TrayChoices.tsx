import Button from '@mui/material/Button'
import Menu from '@mui/material/Menu'
import MenuItem from '@mui/material/MenuItem'
import { useEffect, useState } from 'react'
import { useNavigate } from 'react-router'
import type { Question } from '../../core/analyses/registry.js'
import type { AnyMark } from '../../core/questions/study.js'
import type { Words } from '../../core/words/words.js'
import { besideAddress, studyAddress } from '../address/address.js'
import { viewOf } from '../analyses/registry.js'
import type { Choosing } from '../analyses/view.js'

/** More than so many choices stand in a menu. */
const MOST_CHOICES = 2

export interface Chosen {
  question: Question
  marks: readonly AnyMark[]
  words: Words
  onMarks: (marks: readonly AnyMark[]) => void
  onAsk: (question: Question) => void
  /** opens a word of the question */
  onToken: (token: string) => void
}

/** What the selected parts of a result lead to: other parts, other studies, or a word of the question. */
export function TrayChoices(props: Chosen) {
  const { question, marks, words, onMarks, onAsk, onToken } = props
  const navigate = useNavigate()
  const [from, setFrom] = useState<HTMLElement | null>(null)
  const [choosing, setChoosing] = useState<{ of: string; choose: Choosing<Question, AnyMark> } | null>(null)
  const { kind } = question
  useEffect(() => {
    let gone = false
    void viewOf(kind)
      .choices?.()
      .then((choose) => !gone && setChoosing({ of: kind, choose }))
    return () => {
      gone = true
    }
  }, [kind])
  const choices = choosing?.of === kind ? choosing.choose(question, marks, words) : []
  const take = (choice: (typeof choices)[number]) => {
    setFrom(null)
    if ('mark' in choice) onMarks([choice.mark])
    else if ('token' in choice) onToken(choice.token)
    else if ('people' in choice) void navigate(besideAddress(choice.people, choice.beside))
    // What another kind answers is a study of its own.
    else if (choice.question.kind !== kind) void navigate(studyAddress(choice.question as Question))
    else onAsk(choice.question as Question)
  }
  if (choices.length <= MOST_CHOICES)
    return choices.map((choice) => (
      <Button key={choice.label} onClick={() => take(choice)}>
        {choice.label}
      </Button>
    ))
  return (
    <>
      <Button aria-haspopup="menu" onClick={(event) => setFrom(event.currentTarget)}>
        From here …
      </Button>
      <Menu anchorEl={from} open={from !== null} onClose={() => setFrom(null)}>
        {choices.map((choice) => (
          <MenuItem key={choice.label} onClick={() => take(choice)}>
            {choice.label}
          </MenuItem>
        ))}
      </Menu>
    </>
  )
}
