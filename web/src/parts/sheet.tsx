import { X } from "lucide-react"
import { Dialog } from "radix-ui"
import type { ReactNode } from "react"

import { t } from "../words"

// Sheet is what a dialog shows, over the view.
export function Sheet({ title, text, children, wide }: { title: string; text?: string; children: ReactNode; wide?: boolean }) {
  return (
    <Dialog.Portal>
      <Dialog.Overlay className="fixed inset-0 z-20 bg-black/40" />
      <Dialog.Content
        {...(text ? {} : { "aria-describedby": undefined })}
        className={`fixed top-[8dvh] left-1/2 z-20 max-h-[84dvh] -translate-x-1/2 overflow-y-auto rounded-lg border border-line bg-sheet p-6 shadow-xl ${wide ? "w-[min(64rem,94vw)]" : "w-[min(30rem,94vw)]"}`}
      >
        <div className="flex items-start justify-between gap-4">
          <Dialog.Title className="font-serif text-xl">{title}</Dialog.Title>
          <Dialog.Close aria-label={t("Close")} className="rounded p-1 text-quiet hover:text-ink">
            <X aria-hidden className="size-5" />
          </Dialog.Close>
        </div>
        {text && <Dialog.Description className="mt-1 text-quiet">{text}</Dialog.Description>}
        <div className="mt-4">{children}</div>
      </Dialog.Content>
    </Dialog.Portal>
  )
}
