/** The keys, by place; the sheet of keys shows them, the pages act on them. */
export interface KeyGroup {
  title: string
  keys: [keys: string, does: string][]
}

export const KEYS: KeyGroup[] = [
  {
    title: 'Everywhere',
    keys: [
      ['Ctrl K', 'go to anything by a few letters'],
      ['? or Ctrl /', 'this sheet'],
      ['Esc', 'closes what is open'],
    ],
  },
  {
    title: 'Lines of a quote',
    keys: [
      ['letters, then Enter', 'takes an item in'],
      ['Shift Enter', 'marks an item; Enter then takes all marked ones in'],
      ['Enter', 'on to the next line'],
      ['Tab, Shift Tab', 'next field, field before'],
      ['← ↑ → ↓, Home, End', 'move'],
      ['F2 or typing', 'edits; Esc leaves as it was'],
      ['Delete', 'on a price: back to the rules; on a discount: none'],
      ['Alt ↓', 'price trail, next break, past prices'],
      ['Ctrl Shift ↑ ↓', 'moves the line'],
      ['Ctrl Delete', 'takes the line away'],
      ['Alt A, Alt O', 'an alternative to the line above, an option'],
      ['Alt H, Alt N', 'a heading, a note above the line'],
    ],
  },
  {
    title: 'The whole quote',
    keys: [
      ['Ctrl V', 'pastes rows from a spreadsheet'],
      ['Alt L', 'lines from an earlier quote'],
      ['Alt S', 'solve for a total, a margin or a price'],
      ['Ctrl Z', 'takes the last change back'],
      ['Ctrl Enter', 'issues the draft; on an issued quote, makes the order'],
    ],
  },
]
