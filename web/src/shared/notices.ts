/** Short words at the foot of the screen, with an undo where there is one. */
import { ElMessage } from 'element-plus'
import 'element-plus/es/components/message/style/css'
import { h } from 'vue'

/** Say that something was done; `undo` offers to take it back. */
export function say(words: string, undo?: () => void): void {
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
            'Undo',
          ),
        ])
      : words,
    duration: undo ? 8000 : 4000,
    icon: h('span'),
    offset: 84,
    placement: 'bottom',
  })
}

/** Say what went wrong. */
export function complain(fault: unknown): void {
  say(fault instanceof Error ? fault.message : 'Something went wrong.')
}
