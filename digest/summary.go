package digest

import (
	"cmp"
	"context"
	"math"
	"regexp"
	"slices"
	"strings"

	"jardinet/encoder"
	"jardinet/layout"
	"jardinet/text"
)

// Lengths of summaries, in sentences.
const (
	shortSummary   = 5
	pageSummary    = 20
	chapterSummary = 3
)

// Bounds of what is considered for a summary.
const (
	fewestOfSentence = 6 // words
	mostOfSentence   = 45
	mostCandidates   = 240
	ofSection        = 3 // candidates of a section at most, unless there is room
)

// Weights of the objective of Lin and Bilmes (2011). They were chosen on three documents of the demo
// and measured on two others (bench/digest).
const (
	saturation = 6.0  // of a candidate's likeness to all, over their number
	diversity  = 20.0 // of the spread over sections
	leading    = 3.0  // how much more the first sentence of a section counts
)

// A candidate is a sentence that may stand in a summary.
type candidate struct {
	quote  *Quote
	vector []float32
	part   int     // of what is summed up: its section, or its document
	first  bool    // of its section
	weight float64 // how much of what is said often it says
}

// summarise chooses the sentences of the summaries, and those that say what chapters are about.
func (d *Digest) summarise(ctx context.Context, all []Quote, encode Encode) error {
	bounds := d.starts(all)
	found := candidates(all)
	if len(found) == 0 {
		return nil
	}
	if err := vectors(ctx, found, encode); err != nil {
		return err
	}
	d.Summary = choose(found, shortSummary)
	d.Page = choose(found, pageSummary)
	for i, e := range d.Outline {
		inside := between(found, bounds[i], endOf(bounds, d.Outline, i))
		if e.Level == 1 && len(inside) > 0 {
			d.Chapters = append(d.Chapters, Chapter{Title: e.Title, Page: e.Page, Summary: choose(inside, chapterSummary)})
		}
		if e.Level <= 2 && len(inside) > 0 {
			about := choose(inside, 1)[0]
			d.Outline[i].About = &about
		}
	}
	return nil
}

// starts returns the line with which each chapter of the outline begins.
func (d *Digest) starts(all []Quote) []int {
	out := make([]int, len(d.Outline))
	from := 0
	for i, e := range d.Outline {
		key, at := titleKey(e.Title), -1
		for j := from; j < len(all) && all[j].Page <= e.Page+1; j++ {
			if all[j].Page >= e.Page && slices.ContainsFunc(all[j].Section, func(s string) bool { return titleKey(s) == key }) {
				at = j
				break
			}
		}
		if at < 0 {
			at = from
			for at < len(all) && all[at].Page < e.Page {
				at++
			}
		}
		out[i], from = at, at
	}
	return out
}

// endOf is the line before which a chapter ends: where one of its level or above begins.
func endOf(starts []int, outline []Entry, i int) int {
	for j := i + 1; j < len(outline); j++ {
		if outline[j].Level <= outline[i].Level {
			return starts[j]
		}
	}
	return math.MaxInt
}

func between(all []candidate, from, to int) []candidate {
	var out []candidate
	for _, c := range all {
		if c.quote.number >= from && c.quote.number < to {
			out = append(out, c)
		}
	}
	return out
}

// candidates are sentences that can be read by themselves, of each section those with the words
// that the document uses most. Items count where there is nothing else.
func candidates(all []Quote) []candidate {
	if found := candidatesOf(all, false); len(found) > 0 {
		return found
	}
	return candidatesOf(all, true)
}

func candidatesOf(all []Quote, items bool) []candidate {
	stemmers, counts := map[text.Language]*text.Stemmer{}, map[string]int{}
	stems := make([][]string, len(all))
	for i := range all {
		s := stemmers[all[i].language]
		if s == nil {
			s = text.NewStemmer(all[i].language)
			stemmers[all[i].language] = s
		}
		stems[i] = s.Content(all[i].Text)
		for _, w := range stems[i] {
			counts[w]++
		}
	}
	var out []candidate
	path, section, first := "", 0, true
	for i := range all {
		q := &all[i]
		if p := strings.Join(q.Section, "\n"); p != path {
			path, first = p, true
			section++
		}
		if !standsAlone(q) && !(first && pointsHere(q)) || q.Kind == layout.ListItem && !items {
			continue
		}
		out = append(out, candidate{quote: q, part: section, first: first, weight: weight(stems[i], counts)})
		first = false
	}
	return thin(out)
}

// backward are words with which a sentence points to the one before it.
var backward = map[string]bool{}

func init() {
	for w := range strings.FieldsSeq(`it its they them their this that these those he she his her such then thus however therefore here there so but and or also otherwise similarly
		il elle ils elles ce cette ces cela ainsi donc cependant mais et ou es er sie dies diese dieser dieses dann daher jedoch aber und oder dort hier`) {
		backward[w] = true
	}
}

// pointsHere tells whether a sentence begins with "this policy": at the head of a section that is
// the document, and no sentence before it.
func pointsHere(q *Quote) bool {
	words := strings.Fields(q.Text)
	if len(words) < fewestOfSentence || !demonstratives[text.Fold(words[0])] || text.IsFunctionWord(text.Fold(words[1]), q.language) {
		return false
	}
	rest := *q
	rest.Text = strings.Join(words[1:], " ") + " ." // which stands alone but for its first word
	return standsAlone(&rest)
}

var demonstratives = map[string]bool{"this": true, "these": true, "ce": true, "cette": true, "ces": true, "dieser": true, "diese": true, "dieses": true}

// standsAlone tells whether a line is a sentence that can be read by itself.
func standsAlone(q *Quote) bool {
	words := strings.Fields(q.Text)
	if !q.isProse() || len(words) < fewestOfSentence || len(words) > mostOfSentence || !strings.ContainsAny(q.Text[len(q.Text)-1:], ".!") {
		return false
	}
	if pointsBack.MatchString(q.Text) || backward[text.Fold(strings.Trim(words[0], ",.;:"))] {
		return false
	}
	such := suchThings.FindStringSubmatch(q.Text)
	return such == nil || such[1] == "as"
}

// pointsBack is a sentence whose subject is the one before, behind an opening such as "After 20 turns they
// may"; suchThings are things that were named before.
var (
	pointsBack = regexp.MustCompile(`^(?i:at|after|in|on|before|from|by|for|until|during|within|with|under|above|below|once|till|since|après|avant|dans|en|depuis|pendant|nach|vor|bis|ab|am|im|seit|während) (?:[\pL\pN]+ ){0,6}(?:they|it|he|she|sie|er|es|ils?|elles?|cela|this (?:is|was|may|must|can|will|has|had)) `)
	suchThings = regexp.MustCompile(`[^\pL]such (\pL+s)(?:$|[^\pL])`)
)

// weight is how much of what a document often says a sentence says.
func weight(stems []string, counts map[string]int) float64 {
	seen, sum := map[string]bool{}, 0.0
	for _, w := range stems {
		if !seen[w] {
			seen[w] = true
			sum += math.Log(float64(counts[w]))
		}
	}
	return sum / math.Sqrt(float64(max(len(stems), 1)))
}

// thin keeps the candidates with the most weight: of each section some, and so many of all.
func thin(all []candidate) []candidate {
	order := make([]int, len(all))
	for i := range order {
		order[i] = i
	}
	slices.SortStableFunc(order, func(a, b int) int { return cmp.Compare(all[b].weight, all[a].weight) })
	of, rank := map[string]int{}, make([]int, len(all)) // within its section
	for _, i := range order {
		path := strings.Join(all[i].quote.Section, "\n")
		rank[i] = of[path]
		if all[i].first {
			rank[i] = 0 // what a section begins with is always looked at
		}
		of[path]++
	}
	slices.SortStableFunc(order, func(a, b int) int { return cmp.Compare(rank[a], rank[b]) })
	var out []candidate
	for _, i := range order {
		if len(out) < mostCandidates && (rank[i] < ofSection || len(all) <= mostCandidates/2) {
			out = append(out, all[i])
		}
	}
	slices.SortFunc(out, func(a, b candidate) int { return cmp.Compare(a.quote.number, b.quote.number) })
	return out
}

// vectors gives the candidates their vectors, those of one language together.
func vectors(ctx context.Context, all []candidate, encode Encode) error {
	by := map[text.Language][]int{}
	for i, c := range all {
		by[c.quote.language] = append(by[c.quote.language], i)
	}
	for language, places := range by {
		texts := make([]string, len(places))
		for i, at := range places {
			texts[i] = all[at].quote.Text
		}
		found, err := encode(ctx, texts, language)
		if err != nil {
			return err
		}
		for i, at := range places {
			all[at].vector = found[i]
		}
	}
	return nil
}

// choose picks so many sentences, and returns them in their order.
func choose(all []candidate, most int) []Quote {
	picked := chosen(all, most)
	var out []Quote
	for i := range all {
		if picked[i] {
			out = append(out, *all[i].quote)
		}
	}
	return out
}

// A Sentence is one of several documents that are summed up together.
type Sentence struct {
	Text     string
	Language text.Language
	Part     int // its document
	First    bool
}

// Choose returns the places of so many sentences that say most of all, in their order. Its error is
// the encoder's.
func Choose(ctx context.Context, all []Sentence, most int, encode Encode) ([]int, error) {
	found := make([]candidate, len(all))
	for i, s := range all {
		found[i] = candidate{quote: &Quote{Text: s.Text, language: s.Language}, part: s.Part, first: s.First, weight: 1}
	}
	if err := vectors(ctx, found, encode); err != nil {
		return nil, err
	}
	picked := chosen(found, most)
	var out []int
	for i := range all {
		if picked[i] {
			out = append(out, i)
		}
	}
	return out, nil
}

// chosen picks so many sentences that together are like most of the others and spread over the
// parts. The objective is monotone and submodular, so that
// picking the best one at a time comes near the best choice (Lin and Bilmes, 2011).
func chosen(all []candidate, most int) map[int]bool {
	n := len(all)
	like := make([][]float64, n)
	total, r := make([]float64, n), make([]float64, n)
	for i := range all {
		like[i] = make([]float64, n)
		for j := range all {
			like[i][j] = math.Max(0, encoder.Cosine(all[i].vector, all[j].vector))
			total[i] += like[i][j]
		}
		r[i] = total[i] / float64(n) * all[i].weight
		if all[i].first {
			r[i] *= leading
		}
	}
	covered, parts := make([]float64, n), map[int]float64{}
	picked := map[int]bool{}
	for len(picked) < min(most, n) {
		best, gain := -1, math.Inf(-1)
		for j := range all {
			if picked[j] {
				continue
			}
			g := diversity * (math.Sqrt(parts[all[j].part]+r[j]) - math.Sqrt(parts[all[j].part]))
			for i := range all {
				limit := saturation / float64(n) * total[i]
				g += math.Min(covered[i]+like[i][j], limit) - math.Min(covered[i], limit)
			}
			if g > gain {
				best, gain = j, g
			}
		}
		picked[best] = true
		parts[all[best].part] += r[best]
		for i := range all {
			covered[i] += like[i][best]
		}
	}
	return picked
}
