import { MutationCache, QueryCache, QueryClient, QueryClientProvider } from "@tanstack/react-query"
import { setNonce } from "get-nonce"
import { StrictMode } from "react"
import { createRoot } from "react-dom/client"
import { BrowserRouter } from "react-router"

import { Refusal } from "./api/client"
import { App } from "./app"
import { dress, theme } from "./parts/theme"
import "./styles.css"

// signedOut has it found out anew who is signed in when the service says that nobody is.
const signedOut = (error: Error) => {
  if (error instanceof Refusal && error.status === 401) void queries.invalidateQueries({ queryKey: ["session"] })
}

const queries = new QueryClient({
  queryCache: new QueryCache({ onError: signedOut }),
  mutationCache: new MutationCache({ onError: signedOut }),
  defaultOptions: { queries: { staleTime: 10_000, retry: (n, error) => n < 1 && !(error instanceof Refusal) } },
})

// What is drawn over the page brings styles of its own, which the browser takes with this word alone.
const nonce = document.querySelector<HTMLMetaElement>('meta[property="csp-nonce"]')?.nonce
if (nonce) setNonce(nonce)

dress(theme())

const root = document.getElementById("root")
if (root) {
  createRoot(root).render(
    <StrictMode>
      <QueryClientProvider client={queries}>
        <BrowserRouter>
          <App />
        </BrowserRouter>
      </QueryClientProvider>
    </StrictMode>,
  )
}
