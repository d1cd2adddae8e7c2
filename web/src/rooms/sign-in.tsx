import { type FormEvent, useState } from "react"
import { useLocation, useNavigate } from "react-router"

import { useBegin, useSession, useSignIn } from "../api/access"
import { Button } from "../parts/button"
import { Field } from "../parts/field"
import { Failure } from "../parts/notice"
import { t } from "../words"

// SignIn stands at every address until one is signed in; then the address shows what it names.
export function SignIn() {
  const signIn = useSignIn()
  const provider = useSession().data?.provider
  return (
    <>
      {provider && (
        <p className="mx-auto max-w-md pt-10">
          <a href="/api/v1/session/provider" className="text-leaf underline">
            {t("Sign in with {provider}", { provider })}
          </a>
        </p>
      )}
      <Credentials
        title={t("Sign in")}
        text={t("An administrator of this service gives you a name and a passphrase.")}
        action={t("Sign in")}
        busy={signIn.isPending}
        error={signIn.error}
        onSubmit={(name, passphrase) => signIn.mutate({ name, passphrase })}
        autoComplete="current-password"
      />
    </>
  )
}

// Begin is where the link leads that the service prints when it starts for the first time.
export function Begin() {
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

type Props = {
  title: string
  text: string
  hint?: string
  action: string
  busy: boolean
  error: Error | null
  onSubmit: (name: string, passphrase: string) => void
  autoComplete: string
}

function Credentials({ title, text, hint, action, busy, error, onSubmit, autoComplete }: Props) {
  const [name, setName] = useState("")
  const [passphrase, setPassphrase] = useState("")
  const submit = (event: FormEvent) => {
    event.preventDefault()
    onSubmit(name.trim(), passphrase)
  }
  return (
    <form onSubmit={submit} className="mx-auto max-w-md space-y-5 pt-10">
      <h1 className="text-3xl">{title}</h1>
      <p className="text-quiet">{text}</p>
      <Field label={t("Name")} value={name} onChange={(e) => setName(e.target.value)} autoComplete="username" autoFocus required />
      <Field
        label={t("Passphrase")}
        hint={hint}
        type="password"
        value={passphrase}
        onChange={(e) => setPassphrase(e.target.value)}
        autoComplete={autoComplete}
        required
      />
      <Button kind="main" type="submit" disabled={busy || !name.trim() || !passphrase}>
        {action}
      </Button>
      {error && <Failure error={error} />}
    </form>
  )
}
