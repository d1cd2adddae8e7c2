import { Dialog } from "radix-ui"

import type { Quote } from "../../api/digest"
import { Sheet } from "../../parts/sheet"
import { t } from "../../words"
import { ShownPage } from "./shown-page"

// Over shows the page behind a line over the view, where there is no room beside it.
export function Over({ collection, document, quote, onClose }: { collection: string; document: string; quote: Quote | undefined; onClose: () => void }) {
  return (
    <Dialog.Root open={quote !== undefined} onOpenChange={(open) => !open && onClose()}>
      <Sheet title={t("The page behind the line")} wide>
        <ShownPage collection={collection} document={document} quote={quote} />
      </Sheet>
    </Dialog.Root>
  )
}
