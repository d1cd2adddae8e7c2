package cli

import (
	"fmt"
	"io"
	"os"
	"strings"
	"text/tabwriter"
	"unicode/utf8"

	"golang.org/x/term"
)

// width returns how wide the output may be, and whether it is a terminal.
func width(w io.Writer) (columns int, terminal bool) {
	f, ok := w.(*os.File)
	if !ok || !term.IsTerminal(int(f.Fd())) {
		return 80, false
	}
	columns, _, err := term.GetSize(int(f.Fd()))
	if err != nil || columns < 20 {
		columns = 80
	}
	return min(columns, 100), true
}

// paint wraps s in an ANSI style on terminals that want colour.
func (p *program) paint(style, s string) string {
	if _, terminal := width(p.out); !terminal || os.Getenv("NO_COLOR") != "" || s == "" {
		return s
	}
	return "\x1b[" + style + "m" + s + "\x1b[0m"
}

// Styles.
const (
	bold  = "1"
	faint = "2"
	green = "32"
	ochre = "33"
	red   = "31"
)

// wrap breaks text into lines of at most columns characters, each indented.
func wrap(s, first, rest string, columns int) string {
	var b strings.Builder
	for i, paragraph := range strings.Split(s, "\n") {
		indent := first
		if i > 0 {
			b.WriteByte('\n')
			indent = rest
		}
		b.WriteString(indent)
		at := utf8.RuneCountInString(indent)
		for j, word := range strings.Fields(paragraph) {
			n := utf8.RuneCountInString(word)
			if j > 0 && at+1+n > columns {
				b.WriteString("\n" + rest)
				at = utf8.RuneCountInString(rest)
			} else if j > 0 {
				b.WriteByte(' ')
				at++
			}
			b.WriteString(word)
			at += n
		}
	}
	return b.String()
}

// table prints rows in columns.
func (p *program) table(rows [][]string) {
	w := tabwriter.NewWriter(p.out, 0, 0, 2, ' ', 0)
	for _, row := range rows {
		fmt.Fprintln(w, strings.Join(row, "\t"))
	}
	w.Flush()
}

// plural words a count: "1 page", "3 pages".
func plural(n int, one string) string {
	if n == 1 {
		return "1 " + one
	}
	return fmt.Sprintf("%d %ss", n, one)
}

func clip(s string, n int) string {
	if r := []rune(s); len(r) > n {
		return string(r[:n-1]) + "…"
	}
	return s
}
