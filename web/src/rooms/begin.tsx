import { useLocation, useNavigate } from "react-router"

import { useBegin } from "../api/access"
import { t } from "../words"
import { Credentials } from "./credentials"

// Begin is where the link leads that the service prints when it starts for the first time.
export default function Begin() {
  const { hash } = useLocation()
  const begin = useBegin()
  const go = useNavigate()
  const secret = hash.slice(1)
  const enter = async (name: string, passphrase: string) => {
    try {
      await begin.mutateAsync({ secret, name, passphrase })
      void go("/", { replace: true })
    } catch {
      // The form tells.
    }
  }
  return (
    <Credentials
      title={t("Make yourself the administrator")}
      text={t("From then on nobody gets in without a name and a passphrase, or a key. You say who else may come in, and what they may do.")}
      hint={t("Twelve characters at least, such as four words that do not belong together.")}
      action={t("Begin")}
      busy={begin.isPending}
      error={secret ? begin.error : new Error(t("This link lacks its secret. Open the whole link that the service printed when it started."))}
      onSubmit={(name, passphrase) => void enter(name, passphrase)}
      autoComplete="new-password"
    />
  )
}
