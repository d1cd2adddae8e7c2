package text

import (
	"cmp"
	"fmt"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"time"
)

// A Date is a day, a month or a year that a text names. What is not said is 0: a day without a
// year comes every year.
type Date struct {
	Span
	Year, Month, Day int
}

// String returns the date as ISO 8601 has it: 2026-01-31, 2026-01, 2026, or --01-31 for each year.
func (d Date) String() string {
	switch {
	case d.Year == 0 && d.Day == 0:
		return fmt.Sprintf("--%02d", d.Month)
	case d.Year == 0:
		return fmt.Sprintf("--%02d-%02d", d.Month, d.Day)
	case d.Month == 0:
		return fmt.Sprintf("%04d", d.Year)
	case d.Day == 0:
		return fmt.Sprintf("%04d-%02d", d.Year, d.Month)
	}
	return fmt.Sprintf("%04d-%02d-%02d", d.Year, d.Month, d.Day)
}

// months by their names in English, French and German. English and German ones are written with a
// capital, which tells the month of May from the verb.
var months = map[string]int{
	"January": 1, "February": 2, "March": 3, "April": 4, "May": 5, "June": 6, "July": 7, "August": 8, "September": 9, "October": 10, "November": 11, "December": 12,
	"Jan": 1, "Feb": 2, "Mar": 3, "Apr": 4, "Jun": 6, "Jul": 7, "Aug": 8, "Sep": 9, "Sept": 9, "Oct": 10, "Nov": 11, "Dec": 12,
	"janvier": 1, "février": 2, "mars": 3, "avril": 4, "mai": 5, "juin": 6, "juillet": 7, "août": 8, "septembre": 9, "octobre": 10, "novembre": 11, "décembre": 12,
	"Januar": 1, "Februar": 2, "März": 3, "Mai": 5, "Juni": 6, "Juli": 7, "Oktober": 10, "Dezember": 12, "Jänner": 1,
}

// shortMonths are names that are taken for a month only beside a day and a year.
var shortMonths = []string{"Jan", "Feb", "Mar", "Apr", "Jun", "Jul", "Aug", "Sep", "Sept", "Oct", "Nov", "Dec"}

var (
	monthName = func() string {
		var names []string
		for name := range months {
			names = append(names, name)
		}
		slices.SortFunc(names, func(a, b string) int { return cmp.Or(len(b)-len(a), cmp.Compare(a, b)) })
		return `(` + strings.Join(names, "|") + `)`
	}()
	dayNumber = `(\d{1,2})(?:st|nd|rd|th|er|\.)?`

	monthNames = regexp.MustCompile(`\b` + monthName + `\b`)
	isoDate    = regexp.MustCompile(`\b(\d{4})-(\d{2})(?:-(\d{2}))?(?:\b|T\d)`)
	slashed    = regexp.MustCompile(`\b(\d{1,2})([./])(\d{1,2})[./](\d{4})\b`)
	dayRange   = regexp.MustCompile(`\b` + dayNumber + `\s*(?:to|and|–|-|until|au|et|bis|und)\s*` + dayNumber + `\s+` + monthName + `\b(?:,?\s+(\d{4})\b)?`)
	dayMonth   = regexp.MustCompile(`\b` + dayNumber + `\s+(?:of\s+)?` + monthName + `\b\.?(?:,?\s+(\d{4})\b)?`)
	monthDay   = regexp.MustCompile(`\b` + monthName + `\.?\s+(\d{1,2})(?:st|nd|rd|th)?,?\s+(\d{4})\b`)
	monthYear  = regexp.MustCompile(`\b` + monthName + `\s+(\d{4})\b`)
	monthOnly  = regexp.MustCompile(`\b(?:[Ii]n|[Ee]very|[Ee]ach|[Uu]ntil|[Ff]rom|[Tt]o|[Bb]y|[Bb]efore|[Aa]fter|[Ss]ince|[Dd]uring|mid-?|end of|beginning of|and|en|jusqu'en|depuis|im|bis|ab|Ende|Anfang|und)\s+` + monthName + `\b`)
	monthList  = regexp.MustCompile(`\b` + monthName + `((?:,\s*` + monthName + `)+)`)
	yearAlone  = regexp.MustCompile(`(?i)\b(?:in|since|until|till|by|from|before|after|during|(?:end|beginning|start|middle|spring|summer|autumn|winter) of|in (?:the )?(?:early|mid|late|spring|summer|autumn|winter)(?: of)?|en|depuis|avant|après|jusqu'en|seit|bis|ab|im jahr|vor|nach)\s+(1[5-9]\d\d|20\d\d|21\d\d)\b`)
)

// Dates returns the dates that a text names, in their order: days, months with a year, and years
// after a word such as "since".
func Dates(s string) []Date {
	f := dateFinder{s: s}
	if strings.ContainsAny(s, "0123456789") {
		f.numbers()
	}
	if monthNames.MatchString(s) { // one look rather than six
		f.months()
	}
	if strings.ContainsAny(s, "0123456789") {
		f.each(yearAlone, func(g []string) []Date { return []Date{{Year: int10(g[1])}} })
	}
	slices.SortStableFunc(f.out, func(a, b Date) int { return cmp.Compare(a.Start, b.Start) })
	f.inherit()
	return f.out
}

// A dateFinder gathers dates, each byte of the text for one at most.
type dateFinder struct {
	s   string
	out []Date
}

// numbers finds days that are written in numbers alone.
func (f *dateFinder) numbers() {
	f.each(isoDate, func(g []string) []Date { return []Date{{Year: int10(g[1]), Month: int10(g[2]), Day: int10(g[3])}} })
	f.each(slashed, func(g []string) []Date {
		day, month := int10(g[1]), int10(g[3])
		if g[2] == "/" && month > 12 {
			day, month = month, day
		}
		return []Date{{Year: int10(g[4]), Month: month, Day: day}}
	})
}

// months finds days and months by the names of months.
func (f *dateFinder) months() {
	f.each(dayRange, func(g []string) []Date {
		if f.short(g[3], g[4]) {
			return nil
		}
		m, y := months[g[3]], int10(g[4])
		return []Date{{Year: y, Month: m, Day: int10(g[1])}, {Year: y, Month: m, Day: int10(g[2])}}
	})
	f.each(dayMonth, func(g []string) []Date {
		if f.short(g[2], g[3]) {
			return nil
		}
		return []Date{{Year: int10(g[3]), Month: months[g[2]], Day: int10(g[1])}}
	})
	f.each(monthDay, func(g []string) []Date { return []Date{{Year: int10(g[3]), Month: months[g[1]], Day: int10(g[2])}} })
	f.each(monthYear, func(g []string) []Date { return []Date{{Year: int10(g[2]), Month: months[g[1]]}} })
	f.each(monthOnly, func(g []string) []Date {
		if f.short(g[1], "") {
			return nil
		}
		return []Date{{Month: months[g[1]]}}
	})
	for _, at := range monthList.FindAllStringSubmatchIndex(f.s, -1) {
		f.more(at[4], at[5])
	}
}

func (f *dateFinder) each(pattern *regexp.Regexp, read func(groups []string) []Date) {
	for _, at := range pattern.FindAllStringSubmatchIndex(f.s, -1) {
		groups := make([]string, len(at)/2)
		for i := range groups {
			if at[2*i] >= 0 {
				groups[i] = f.s[at[2*i]:at[2*i+1]]
			}
		}
		start, end := at[0], at[1]
		if pattern == isoDate {
			end = max(at[5], at[7]) // without the time
		}
		if pattern != yearAlone && start > 1 && f.s[start-1] == '.' && f.s[start-2] != ' ' {
			continue // "J.1.2 January 1997" is the number of a section
		}
		if pattern == yearAlone || pattern == monthOnly {
			start = at[2] // without the word before it
		}
		if slices.ContainsFunc(f.out, func(d Date) bool { return d.Start < end && start < d.End }) {
			continue
		}
		for _, d := range read(groups) {
			if d.valid() {
				d.Span = Span{start, end}
				f.out = append(f.out, d)
			}
		}
	}
}

// more reads the months that go on a list which begins with one.
func (f *dateFinder) more(start, end int) {
	for _, at := range monthNames.FindAllStringIndex(f.s[start:end], -1) {
		from, to := start+at[0], start+at[1]
		if !slices.ContainsFunc(f.out, func(d Date) bool { return d.Start < to && from < d.End }) {
			f.out = append(f.out, Date{Span: Span{from, to}, Month: months[f.s[from:to]]})
		}
	}
}

// short tells whether what may be the name of a month is too short to be one without a year.
func (f *dateFinder) short(month, year string) bool {
	return year == "" && slices.Contains(shortMonths, month)
}

// inherit gives the first date of "1 April to 30 September 2026" the year of the second.
func (f *dateFinder) inherit() {
	for i := 0; i+1 < len(f.out); i++ {
		a, b := &f.out[i], f.out[i+1]
		if a.Year != 0 || a.Month == 0 || b.Year == 0 || b.Day == 0 || a.End > b.Start {
			continue
		}
		switch strings.ToLower(strings.TrimSpace(f.s[a.End:b.Start])) {
		case "to", "and", "until", "–", "-", "till", "au", "et", "jusqu'au", "bis", "und", "bis zum":
			a.Year = b.Year
		}
	}
}

// valid tells whether there is such a day.
func (d Date) valid() bool {
	if d.Month < 0 || d.Month > 12 || d.Month == 0 && d.Day > 0 || d.Year > 2999 {
		return false
	}
	if d.Day == 0 {
		return true
	}
	year := cmp.Or(d.Year, 2024) // a leap year
	at := time.Date(year, time.Month(d.Month), d.Day, 0, 0, 0, 0, time.UTC)
	return at.Day() == d.Day
}

// int10 reads digits; what has none is 0.
func int10(s string) int {
	n, _ := strconv.Atoi(s)
	return n
}
