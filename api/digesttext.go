package api

import (
	"fmt"
	"strings"
	"time"
)

// place words where a quote stands, for people: "page 7 (printed v)".
func (q *Quote) place() string { return pageWords(q.Page, q.Label) }

func pageWords(page int, label string) string {
	if label != "" && label != fmt.Sprint(page) {
		return fmt.Sprintf("page %d, printed %s", page, label)
	}
	return fmt.Sprintf("page %d", page)
}

// Markdown words a digest, or one part of it by its name in JSON, for people.
func (d *Digest) Markdown(part string) string {
	var b strings.Builder
	section := func(name, title string, write func()) {
		if part == "" || part == name {
			fmt.Fprintf(&b, "## %s\n\n", title)
			write()
			b.WriteString("\n")
		}
	}
	quotes := func(all []Quote) {
		for _, q := range all {
			fmt.Fprintf(&b, "- %s (%s)\n", q.Text, q.place())
		}
	}
	if part == "" {
		fmt.Fprintf(&b, "# %s\n\n%s, %d pages\n\n", firstOf(d.Title, d.Document), d.Document, d.Pages)
	}
	section("summary", "In five sentences", func() { quotes(d.Summary) })
	section("outline", "Outline", func() {
		for _, h := range d.Outline {
			fmt.Fprintf(&b, "%s- %s (%s)\n", strings.Repeat("  ", h.Level-1), h.Title, pageWords(h.Page, h.Label))
			if h.About != nil && h.Level == 1 {
				fmt.Fprintf(&b, "%s  %s (%s)\n", strings.Repeat("  ", h.Level-1), h.About.Text, h.About.place())
			}
		}
	})
	section("page", "On one page", func() { quotes(d.OnePage) })
	section("chapters", "By chapter", func() {
		for _, c := range d.Chapters {
			fmt.Fprintf(&b, "### %s (%s)\n\n", c.Title, pageWords(c.Page, c.Label))
			quotes(c.Summary)
			b.WriteString("\n")
		}
	})
	section("terms", "Terms and abbreviations", func() {
		for _, t := range d.Terms {
			fmt.Fprintf(&b, "- **%s**: %s (%s)\n", t.Term, t.Means, t.Quote.place())
		}
	})
	section("dates", "Dates and deadlines", func() {
		for _, t := range d.Dates {
			by := ""
			if t.Deadline {
				by = ", deadline"
			}
			fmt.Fprintf(&b, "- **%s**%s: %s (%s)\n", t.When, by, t.Quote.Text, t.Quote.place())
		}
	})
	section("figures", "Figures and limits", func() {
		for _, f := range d.Figures {
			fmt.Fprintf(&b, "- **%s** · %s (%s)\n", strings.TrimSpace(f.Bound+" "+f.Words), f.Of, f.Quote.place())
		}
	})
	section("duties", "Duties and prohibitions", func() {
		for _, t := range d.Duties {
			fmt.Fprintf(&b, "- %s**%s** %s (%s)\n", spaced(t.Number), t.Force, t.Quote.Text, t.Quote.place())
		}
	})
	section("offices", "Who has which duties", func() {
		by := map[string]*Duty{}
		for i := range d.Duties {
			by[d.Duties[i].ID] = &d.Duties[i]
		}
		for _, o := range d.Offices {
			fmt.Fprintf(&b, "### %s\n\n", o.Name)
			for _, id := range o.Duties {
				if t := by[id]; t != nil {
					fmt.Fprintf(&b, "- %s (%s)\n", t.Quote.Text, t.Quote.place())
				}
			}
			quotes(o.Tasks)
			b.WriteString("\n")
		}
	})
	return strings.TrimSpace(b.String()) + "\n"
}

func spaced(s string) string {
	if s == "" {
		return ""
	}
	return s + " "
}

func firstOf(a, b string) string {
	if a != "" {
		return a
	}
	return b
}

// Calendar writes the days of a digest as iCalendar (RFC 5545): those of each year come again,
// months and years last as long as they do, and periods are left out.
func (d *Digest) Calendar() string {
	var b strings.Builder
	line := func(format string, args ...any) { folded(&b, fmt.Sprintf(format, args...)) }
	line("BEGIN:VCALENDAR")
	line("VERSION:2.0")
	line("PRODID:-//Jardinet//Digest//EN")
	for i, t := range d.Dates {
		from, until, yearly := days(t.When, d.Made)
		if from.IsZero() {
			continue
		}
		line("BEGIN:VEVENT")
		line("UID:%s-%s-%d@jardinet", d.ID, t.ID, i)
		line("DTSTAMP:%s", d.Made.UTC().Format("20060102T150405Z"))
		line("DTSTART;VALUE=DATE:%s", from.Format("20060102"))
		line("DTEND;VALUE=DATE:%s", until.Format("20060102"))
		if yearly {
			line("RRULE:FREQ=YEARLY")
		}
		line("SUMMARY:%s", escapedText(t.Quote.Text))
		line("DESCRIPTION:%s", escapedText(firstOf(d.Title, d.Document)+", "+t.Quote.place()))
		if t.Deadline {
			line("CATEGORIES:DEADLINE")
		}
		line("TRANSP:TRANSPARENT")
		line("END:VEVENT")
	}
	line("END:VCALENDAR")
	return b.String()
}

// days are the first day of a date and the day after its last; a date of each year begins in the
// year in which the digest was made.
func days(when string, made time.Time) (from, until time.Time, yearly bool) {
	if rest, ok := strings.CutPrefix(when, "--"); ok {
		when, yearly = fmt.Sprintf("%04d-%s", made.Year(), rest), true
		if rest == "02-29" {
			when = "2024-02-29"
		}
	}
	for _, form := range []struct {
		layout        string
		years, months int
		days          int
	}{{"2006-01-02", 0, 0, 1}, {"2006-01", 0, 1, 0}, {"2006", 1, 0, 0}} {
		if at, err := time.Parse(form.layout, when); err == nil {
			return at, at.AddDate(form.years, form.months, form.days), yearly
		}
	}
	return time.Time{}, time.Time{}, false
}

func escapedText(s string) string {
	return strings.NewReplacer(`\`, `\\`, ";", `\;`, ",", `\,`, "\n", `\n`).Replace(s)
}

// folded writes a line of iCalendar, broken before its 75th byte.
func folded(b *strings.Builder, s string) {
	const most = 73
	for n := 0; len(s) > most; n++ {
		cut := most
		for cut > 0 && s[cut]&0xc0 == 0x80 {
			cut--
		}
		b.WriteString(s[:cut] + "\r\n ")
		s = s[cut:]
	}
	b.WriteString(s + "\r\n")
}
