import { useSession, useSignIn } from "../api/access"
import { t } from "../words"
import { Credentials } from "./credentials"

// SignIn stands at every address until one is signed in; then the address shows what it names.
export default function SignIn() {
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
