/**
 * Words about what was done: short at the foot of the screen, with an undo where there is one.
 * What went wrong stays until it is read.
 */
import { ElMessage, ElNotification } from 'element-plus'
import { h, onScopeDispose, shallowRef, type Ref } from 'vue'
import { asFault } from '@/api/fault'
import { t } from '@/words'

const SHORT_MS = 4000
const WITH_UNDO_MS = 10_000
/** Above the sum bar. */
const OFFSET = 84

let last: { close: () => void } | undefined

/** Say that something was done; `undo` offers to take it back, once, until the next is said. */
export function say(words: string, undo?: () => void): void {
  last?.close()
  const message = ElMessage({
    message: undo
      ? h('span', [
          `${words} `,
          h(
            'button',
            {
              class: 'undo',
              onClick: () => {
                message.close()
                undo()
              },
            },
            t('kit.undo'),
          ),
        ])
      : words,
    duration: undo ? WITH_UNDO_MS : SHORT_MS,
    icon: h('span'),
    offset: OFFSET,
    placement: 'bottom',
  })
  last = message
}

const shown = new Map<string, { close: () => void }>()

export interface Complaint {
  words: string
  again: (() => void) | undefined
}
/** Where a panel asked for the act, it is the panel that tells what went wrong: newest last. */
const panels: Ref<Complaint | null>[] = []

/** What goes wrong while this panel is open is told in it, in place of the foot of the screen. */
export function useToldHere(): Ref<Complaint | null> {
  const told = shallowRef<Complaint | null>(null)
  panels.push(told)
  onScopeDispose(() => panels.splice(panels.indexOf(told), 1))
  return told
}

/**
 * Say what went wrong, in the open panel, else at the foot of the screen, where it stays until it
 * is closed or `again` is tried. The same is said once.
 */
export function complain(problem: unknown, again?: () => void): void {
  const words = asFault(problem).message
  const panel = panels.at(-1)
  if (panel) {
    panel.value = { words, again }
    return
  }
  shown.get(words)?.close()
  const close = () => shown.get(words)?.close()
  shown.set(
    words,
    ElNotification({
      message: again
        ? h('span', [
            `${words} `,
            h(
              'button',
              {
                class: 'undo',
                onClick: () => {
                  close()
                  again()
                },
              },
              t('kit.load.again'),
            ),
          ])
        : words,
      customClass: 'fault-note',
      duration: 0,
      position: 'bottom-right',
      offset: OFFSET,
      onClose: () => shown.delete(words),
    }),
  )
}

/** Close what was complained about: the person went on. */
export function settle(): void {
  for (const note of [...shown.values()]) note.close()
  for (const panel of panels) panel.value = null
}
