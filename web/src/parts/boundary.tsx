import { Component, type ReactNode } from "react"

import { t } from "../words"
import { Button } from "./button"

type Props = { place: string; children: ReactNode }

// Boundary says what happened where a view cannot be drawn, until another place is entered.
export class Boundary extends Component<Props, { error?: Error }> {
  state: { error?: Error } = {}

  static getDerivedStateFromError(error: Error) {
    return { error }
  }

  componentDidUpdate(before: Props) {
    if (before.place !== this.props.place && this.state.error) this.setState({ error: undefined })
  }

  render() {
    const { error } = this.state
    if (!error) return this.props.children
    return (
      <div role="alert" className="max-w-prose rounded-lg border border-brick px-6 py-5">
        <h1 className="text-2xl">{t("This view could not be drawn")}</h1>
        <p className="mt-2">{error.message}</p>
        <p className="mt-2 text-quiet">{t("Nothing is lost: questions that you typed are kept, and so is everything that was saved. If it happens again, tell whoever runs this service what is said above.")}</p>
        <p className="mt-4 flex gap-3">
          <Button kind="main" onClick={() => this.setState({ error: undefined })}>
            {t("Try again")}
          </Button>
          <Button onClick={() => location.reload()}>{t("Reload the page")}</Button>
        </p>
      </div>
    )
  }
}
