import { AlertDialog } from "radix-ui"
import type { ReactNode } from "react"

import { Button } from "./button"
import { t } from "../words"

type Props = { trigger: ReactNode; title: string; text: string; action: string; onConfirm: () => void }

// Confirm asks before something is removed.
export function Confirm({ trigger, title, text, action, onConfirm }: Props) {
  return (
    <AlertDialog.Root>
      <AlertDialog.Trigger asChild>{trigger}</AlertDialog.Trigger>
      <AlertDialog.Portal>
        <AlertDialog.Overlay className="fixed inset-0 bg-black/40" />
        <AlertDialog.Content className="fixed left-1/2 top-1/3 w-[min(28rem,92vw)] -translate-x-1/2 -translate-y-1/2 rounded-lg border border-line bg-sheet p-6 shadow-xl">
          <AlertDialog.Title className="font-serif text-xl">{title}</AlertDialog.Title>
          <AlertDialog.Description className="mt-2 text-quiet">{text}</AlertDialog.Description>
          <div className="mt-5 flex justify-end gap-3">
            <AlertDialog.Cancel asChild>
              <Button>{t("Cancel")}</Button>
            </AlertDialog.Cancel>
            <AlertDialog.Action asChild>
              <Button kind="danger" onClick={onConfirm}>
                {action}
              </Button>
            </AlertDialog.Action>
          </div>
        </AlertDialog.Content>
      </AlertDialog.Portal>
    </AlertDialog.Root>
  )
}
