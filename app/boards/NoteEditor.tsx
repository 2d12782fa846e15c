import FormatBoldIcon from '@mui/icons-material/FormatBold'
import FormatItalicIcon from '@mui/icons-material/FormatItalic'
import FormatListBulletedIcon from '@mui/icons-material/FormatListBulleted'
import TitleIcon from '@mui/icons-material/Title'
import Button from '@mui/material/Button'
import Dialog from '@mui/material/Dialog'
import DialogActions from '@mui/material/DialogActions'
import DialogContent from '@mui/material/DialogContent'
import DialogTitle from '@mui/material/DialogTitle'
import ToggleButton from '@mui/material/ToggleButton'
import { EditorContent, useEditor, useEditorState } from '@tiptap/react'
import StarterKit from '@tiptap/starter-kit'
import { useNonce } from '../page/nonce.js'

/** Writes a note as it will be read. */
export default function NoteEditor(props: { note: unknown; onClose: () => void; onSave: (note: unknown) => void }) {
  const { note, onClose, onSave } = props
  const nonce = useNonce()
  const editor = useEditor({
    extensions: [
      StarterKit.configure({
        code: false,
        codeBlock: false,
        blockquote: false,
        horizontalRule: false,
        strike: false,
        underline: false,
        heading: { levels: [3] },
        link: { openOnClick: false, protocols: ['https', 'http', 'mailto'] },
      }),
    ],
    content: note as object,
    autofocus: 'end',
    immediatelyRender: false,
    ...(nonce ? { injectNonce: nonce } : {}),
    editorProps: { attributes: { 'aria-label': 'Text of the note', role: 'textbox', 'aria-multiline': 'true' } },
  })
  const active = useEditorState({
    editor,
    selector: ({ editor: now }) => ({
      bold: now?.isActive('bold') ?? false,
      italic: now?.isActive('italic') ?? false,
      list: now?.isActive('bulletList') ?? false,
      heading: now?.isActive('heading') ?? false,
    }),
  })
  const tools = [
    {
      name: 'Bold',
      on: active?.bold,
      icon: <FormatBoldIcon fontSize="small" />,
      run: () => editor?.chain().focus().toggleBold().run(),
    },
    {
      name: 'Italic',
      on: active?.italic,
      icon: <FormatItalicIcon fontSize="small" />,
      run: () => editor?.chain().focus().toggleItalic().run(),
    },
    {
      name: 'Heading',
      on: active?.heading,
      icon: <TitleIcon fontSize="small" />,
      run: () => editor?.chain().focus().toggleHeading({ level: 3 }).run(),
    },
    {
      name: 'List',
      on: active?.list,
      icon: <FormatListBulletedIcon fontSize="small" />,
      run: () => editor?.chain().focus().toggleBulletList().run(),
    },
  ]
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm" aria-labelledby="note-title">
      <DialogTitle id="note-title">Note</DialogTitle>
      <DialogContent className="stack">
        <div className="row">
          {tools.map(({ name, on, icon, run }) => (
            <ToggleButton
              key={name}
              value={name}
              size="small"
              selected={on ?? false}
              aria-label={name}
              title={name}
              onClick={run}
            >
              {icon}
            </ToggleButton>
          ))}
        </div>
        <EditorContent editor={editor} className="note-editor note-text" />
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        <Button variant="contained" onClick={() => editor && onSave(editor.getJSON())}>
          Keep the note
        </Button>
      </DialogActions>
    </Dialog>
  )
}
