package digest

import (
	"regexp"
	"slices"
	"strings"
	"unicode"
	"unicode/utf8"

	"jardinet/layout"
	"jardinet/passage"
	"jardinet/table"
	"jardinet/text"
)

// A Way is how an entry of a list was found.
type Way string

// Ways, the surest first.
const (
	ByColumn      Way = "column"      // of a table that is called so
	ByTable       Way = "table"       // that is called so, its first column
	ByEnumeration Way = "enumeration" // behind a colon: "four stations: …"
	ByName        Way = "name"        // "Palm House", "form V4"
)

// An Item is an entry of a list of things of one kind.
type Item struct {
	Text  string
	Way   Way
	Quote Quote // where it is found first
}

// List lists what a document has of a kind, such as "houses", "forms" or "fault codes", each once, in
// the order in which it is found: every line and table is looked through, so that it is complete as far
// as things are called by the kind. Lines is how many were looked through.
func List(doc *layout.Document, kind string) (items []Item, scanned int) {
	all := lines(doc)
	l := newLister(kind, doc.Language)
	if len(l.stems) == 0 {
		return nil, 0
	}
	for _, t := range table.Of(doc) {
		l.table(&t)
	}
	for i := range all {
		l.enumerated(&all[i])
		l.named(&all[i])
	}
	return l.items, len(all)
}

// A lister gathers items of one kind.
type lister struct {
	stemmer *text.Stemmer
	stems   []string // of the kind's words
	last    string   // the kind's last word, folded
	head    string   // the same in the singular, small
	items   []Item
	seen    map[string]int // places in items

	enumeration, proper, coded *regexp.Regexp
}

func newLister(kind string, language text.Language) *lister {
	l := &lister{stemmer: text.NewStemmer(language), seen: map[string]int{}}
	l.stems = l.stemmer.Content(kind)
	words := strings.Fields(kind)
	if len(words) == 0 {
		return l
	}
	l.last = text.Fold(words[len(words)-1])
	l.head = singular(strings.ToLower(words[len(words)-1]))
	any := regexp.QuoteMeta(l.head) + `(?:s|es|en|n)?`
	if strings.HasSuffix(l.head, "y") {
		any = regexp.QuoteMeta(strings.TrimSuffix(l.head, "y")) + `(?:y|ies)`
	}
	l.enumeration = regexp.MustCompile(`(?i)(?:^|[^\pL])` + any + `[^\pL:;.][^:;.]{0,60}?:\s+(.+)$|(?i)(?:^|[^\pL])` + any + `:\s+(.+)$`)
	r, n := utf8.DecodeRuneInString(l.head)
	capital := string(unicode.ToUpper(r)) + l.head[n:]
	l.proper = regexp.MustCompile(`((?:\p{Lu}[\pL'’-]+\s){1,3}` + regexp.QuoteMeta(capital) + `)(?:$|[^\pL])`)
	l.coded = regexp.MustCompile(`(?:^|[^\pL])(?i:` + regexp.QuoteMeta(l.head) + `)\s([A-Z]{1,3}-?\d{1,4}[A-Z]?)(?:$|[^\pL\d])`)
	return l
}

// singular takes the usual endings of the plural off a word.
func singular(word string) string {
	for _, ending := range [][2]string{{"ies", "y"}, {"sses", "ss"}, {"ches", "ch"}, {"shes", "sh"}, {"xes", "x"}, {"s", ""}} {
		if rest, ok := strings.CutSuffix(word, ending[0]); ok && len(rest) > 2 && !strings.HasSuffix(word, "ss") {
			return rest + ending[1]
		}
	}
	return word
}

// add keeps an item, the first time that it is found.
func (l *lister) add(words string, way Way, q Quote) {
	words = strings.Trim(withoutArticle(strings.TrimSpace(words)), " ,.;:")
	key := text.Normal(words)
	if key == "" || len(strings.Fields(words)) > mostOfItem {
		return
	}
	if _, known := l.seen[key]; known {
		return
	}
	l.seen[key] = len(l.items)
	l.items = append(l.items, Item{Text: words, Way: way, Quote: q})
}

// mostOfItem is how many words an item has at most.
const mostOfItem = 8

// table takes the cells of a column that is called as the kind, or the first column of a table that is.
func (l *lister) table(t *table.Table) {
	column, way := -1, ByColumn
	for i, c := range t.Columns {
		if c.Kind != table.Number && l.is(c.Name) {
			column = i
			break
		}
	}
	if column < 0 && t.Columns[0].Kind != table.Number && (l.calls(t.Title) || slices.ContainsFunc(t.Section, l.calls)) {
		column, way = 0, ByTable
	}
	if column < 0 {
		return
	}
	for i, row := range t.Rows {
		if c := row[column]; c.Text != "" && !t.IsTotal(i) {
			l.add(c.Text, way, Quote{Text: c.Text, Page: c.Page, Section: t.Section, Marks: marksOf(c)})
		}
	}
}

func marksOf(c table.Cell) passage.Marks {
	if c.Page == 0 {
		return nil
	}
	return passage.Marks{{Page: c.Page, Box: c.Box}}
}

// is tells whether a name is that of the kind.
func (l *lister) is(name string) bool {
	return slices.Equal(l.stemmer.Content(name), l.stems)
}

// calls tells whether a title says that what stands under it is of the kind: it has its words, and
// hardly any others.
func (l *lister) calls(title string) bool {
	others := 1
	if len(l.stems) > 1 {
		others = 3
	}
	words := slices.DeleteFunc(l.stemmer.Content(title), func(w string) bool { return strings.Trim(w, "0123456789.") == "" })
	return l.says(title) && l.has(title) && len(words) <= len(l.stems)+others
}

// says tells whether a text has the kind's last word as it was written, mostly in the plural: what is
// said of the "Palm House" or of "each house" lists no houses.
func (l *lister) says(s string) bool {
	return slices.ContainsFunc(text.Tokens(s), func(t text.Token) bool { return t.Word == l.last })
}

// has tells whether a text has the words of the kind.
func (l *lister) has(s string) bool {
	words := l.stemmer.Content(s)
	for _, stem := range l.stems {
		if !slices.Contains(words, stem) {
			return false
		}
	}
	return true
}

// enumerated takes what a sentence lists behind a colon, where the kind stands before it.
func (l *lister) enumerated(q *Quote) {
	if !q.isProse() {
		return
	}
	m := l.enumeration.FindStringSubmatch(q.Text)
	if before, _, _ := strings.Cut(q.Text, ":"); m == nil || !l.says(before) || !l.has(q.Text) {
		return
	}
	listed := strings.TrimRight(m[1]+m[2], " .")
	parts := listSeparator.Split(listed, -1)
	if len(parts) < 2 || isGrammar(parts[0], q.language) {
		return // "they leave, close the road …" are no things
	}
	for _, p := range parts {
		p, _, _ = strings.Cut(p, ", which")
		if words := strings.Fields(p); len(words) > 0 && text.IsFunctionWord(text.Fold(words[len(words)-1]), q.language) {
			continue // "those of the Quarantine House are not" is no thing
		}
		l.add(p, ByEnumeration, *q)
	}
}

// isGrammar tells whether words begin with one that carries grammar alone, but for an article.
func isGrammar(s string, language text.Language) bool {
	words := strings.Fields(withoutArticle(s))
	return len(words) == 0 || text.IsFunctionWord(text.Fold(words[0]), language)
}

var listSeparator = regexp.MustCompile(`,\s+(?:and\s+|or\s+|und\s+|et\s+)?|;\s+(?:and\s+)?|\s+(?:and|und|et)\s+`)

// named takes what is called by the kind: "Palm House", "form V4".
func (l *lister) named(q *Quote) {
	if len(l.stems) > 1 {
		return
	}
	for _, m := range l.proper.FindAllStringSubmatch(q.Text, -1) {
		words := strings.Fields(m[1])
		for len(words) > 2 && starters[strings.ToLower(words[0])] {
			words = words[1:]
		}
		if starters[strings.ToLower(words[0])] {
			continue
		}
		l.add(strings.Join(words, " "), ByName, *q)
	}
	for _, m := range l.coded.FindAllStringSubmatch(q.Text, -1) {
		if _, known := l.seen[text.Normal(m[1])]; !known { // in a column, without its kind
			l.add(l.head+" "+m[1], ByName, *q)
		}
	}
}

// starters are words that begin a sentence with a capital and are no part of a name.
var starters = func() map[string]bool {
	out := map[string]bool{}
	for w := range strings.FieldsSeq("the a an in on at of for from to by with each every no any all this that these those if when where while before after and or but der die das ein eine in im am le la les un une dans au") {
		out[w] = true
	}
	return out
}()
