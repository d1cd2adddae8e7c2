// A question box for any page: one script tag, with a key that may only ask.
//
//   <script src="https://manuals.example/box.js" data-collection="halvern" data-key="…" defer></script>
//
// It stands where the tag stands. Its colours are those of the page, or of the variables
// --jardinet-ink, --jardinet-paper, --jardinet-line, --jardinet-accent and --jardinet-mark.
(() => {
  const script = document.currentScript
  const service = new URL(script.src).origin
  const { collection, key, label = "Ask the documents" } = script.dataset
  const words = { ask: "Ask", asking: "Looking through the documents…", close: "Close", nearest: "What comes closest:", ...JSON.parse(script.dataset.words || "{}") }
  const dpi = 110

  const style = `
    :host { display: block; color: var(--jardinet-ink, inherit); font: inherit; max-width: 40rem }
    form { display: flex; gap: .5rem; flex-wrap: wrap } label { flex-basis: 100% }
    input { flex: 1; min-width: 8rem; font: inherit; padding: .5rem .7rem; color: inherit; background: var(--jardinet-paper, transparent); border: 1px solid var(--jardinet-line, currentColor); border-radius: .3rem }
    button { font: inherit; cursor: pointer; border-radius: .3rem; border: 1px solid transparent; padding: .5rem .9rem; background: var(--jardinet-accent, #2a6539); color: #fff }
    .short { font-size: 1.5em; margin: .8rem 0 .2rem } p { margin: .4rem 0 }
    .mark { padding: 0 .4em; margin-left: .3em; background: var(--jardinet-mark, #f6e3b4); color: #5b3a05; font-size: .85em }
    dialog { border: 1px solid var(--jardinet-line, #999); border-radius: .5rem; padding: 1rem; max-width: min(50rem, 92vw); color: #221f19; background: #fffdf7 }
    .page { position: relative } .page img { display: block; width: 100% } .page i { position: absolute; background: #f2c14e88; mix-blend-mode: multiply }
    :focus-visible { outline: 3px solid var(--jardinet-accent, #2a6539); outline-offset: 2px }`

  const call = (path, options = {}) =>
    fetch(`${service}/api/v1/collections/${encodeURIComponent(collection)}${path}`, { ...options, credentials: "omit", headers: { Authorization: `Bearer ${key}`, ...options.headers } })

  const make = (tag, about = {}, ...children) => {
    const e = Object.assign(document.createElement(tag), about)
    e.append(...children)
    return e
  }

  class Box extends HTMLElement {
    connectedCallback() {
      if (this.shadowRoot) return
      const root = this.attachShadow({ mode: "open" })
      this.input = make("input", { id: "q", maxLength: 2000, required: true, autocomplete: "off" })
      const form = make("form", {}, make("label", { htmlFor: "q", textContent: label }), this.input, make("button", { textContent: words.ask }))
      this.said = make("div", {})
      this.said.setAttribute("role", "status")
      this.dialog = make("dialog", {})
      form.addEventListener("submit", (event) => {
        event.preventDefault()
        void this.ask(this.input.value.trim())
      })
      root.append(make("style", { textContent: style }), form, this.said, this.dialog)
    }

    async ask(question) {
      if (!question) return
      this.said.replaceChildren(make("p", { textContent: words.asking }))
      try {
        const response = await call("/ask", { method: "POST", headers: { "Content-Type": "application/json" }, body: JSON.stringify({ question }) })
        const answer = await response.json()
        if (!response.ok) throw new Error(answer.detail || response.statusText)
        this.show(answer)
      } catch (error) {
        this.said.replaceChildren(make("p", { textContent: error.message }))
      }
    }

    show(answer) {
      const parts = []
      if (answer.state === "not_found") {
        parts.push(make("p", { className: "short", textContent: answer.answer }))
        const near = answer.nearest[0]
        if (near) parts.push(make("p", {}, words.nearest + " ", near.title || near.document, `, ${near.page}`))
      } else {
        if (answer.short) parts.push(make("p", { className: "short", textContent: answer.short }))
        for (const s of answer.statements) {
          const marks = answer.citations.filter((c) => s.citations.includes(c.number)).map((c) => this.mark(c))
          parts.push(make("p", {}, s.text, ...marks))
        }
      }
      this.said.replaceChildren(...parts)
    }

    mark(c) {
      const button = make("button", { className: "mark", type: "button", textContent: c.number })
      button.setAttribute("aria-label", `${c.number}: ${c.document}, ${c.page}`)
      button.addEventListener("click", () => void this.page(c))
      return button
    }

    // page shows the page that a citation stands on, with its lines marked.
    async page(c) {
      const picture = make("img", { alt: `${c.document}, ${c.page}` })
      const page = make("div", { className: "page" }, picture)
      const close = make("button", { type: "button", textContent: words.close })
      close.addEventListener("click", () => this.dialog.close())
      this.dialog.setAttribute("aria-label", `${c.title || c.document}, ${c.page}`)
      this.dialog.replaceChildren(make("p", { textContent: `${c.title || c.document}, ${c.label || c.page}` }), page, close)
      this.dialog.showModal()
      const response = await call(`/documents/${encodeURIComponent(c.document_id)}/pages/${c.page}/picture?dpi=${dpi}`)
      if (!response.ok) return
      picture.src = URL.createObjectURL(await response.blob())
      await picture.decode()
      const share = (points, of) => `${(100 * points * dpi) / 72 / of}%`
      for (const b of c.boxes.filter((one) => one.page === c.page)) {
        const mark = make("i", {})
        Object.assign(mark.style, { left: share(b.x0, picture.naturalWidth), top: share(b.y0, picture.naturalHeight), width: share(b.x1 - b.x0, picture.naturalWidth), height: share(b.y1 - b.y0, picture.naturalHeight) })
        page.append(mark)
      }
    }
  }

  if (!customElements.get("jardinet-box")) customElements.define("jardinet-box", Box)
  script.after(document.createElement("jardinet-box"))
})()
