import { type FormEvent, useState } from "react"

import { Button } from "../parts/button"
import { Field } from "../parts/field"
import { Failure } from "../parts/notice"
import { t } from "../words"

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

// Credentials asks for a name and a passphrase.
export function Credentials({ title, text, hint, action, busy, error, onSubmit, autoComplete }: Props) {
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
