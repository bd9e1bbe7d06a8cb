/**
 * Words about what was done: short at the foot of the screen, with an undo where there is one.
 * What went wrong stays until it is read.
 */
import { ElMessage, ElNotification } from 'element-plus'
import { h } from 'vue'
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

/** Say what went wrong; it stays until it is closed, or `again` is tried. The same is said once. */
export function complain(problem: unknown, again?: () => void): void {
  const words = asFault(problem).message
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
}
