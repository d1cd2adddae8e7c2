package answer

import (
	"cmp"
	"slices"

	"jardinet/rank"
	"jardinet/wording"
)

// A Recalled lesson is one that a question is like.
type Recalled struct {
	Lesson
	Likeness Likeness
	Likely   float64 // the probability that its evidence answers the question
}

// A recollection is what lessons say of a question.
type recollection struct {
	likest []Recalled      // the likest first
	told   map[Place]marks // terms of the question that stand in lessons, by what these tell of
	taught map[Place]float64
}

// So many lessons are compared with a question at most, and so many recalled for it; so
// many, and none less likely than that, have a say in the answer.
const (
	mostCompared = 400
	mostRecalled = 40
	mostHeeded   = 8
	leastHeeded  = 0.05
)

// decisive is from when on a lesson has a say though the documents' own words are
// enough.
const decisive = 0.8

// A likened lesson is one beside a question.
type likened struct {
	*learnt
	likeness Likeness
	near     []float64 // how near its words come to each term; nil if nowhere near any
}

// An account is how much of a question is said of a place: in its lessons, there, and in
// either.
type account struct {
	near                  []float64 // how near its lessons come to each term
	united, stated, whole float64   // shares
	unfit                 float64   // 1 if the kind of thing asked for does not stand there
	misnumber             float64   // share of the numbers asked about that do not
}

// misnumbered is the share of numbers that a text does not hold.
func misnumbered(numbers []string, s string) float64 {
	missing := 0.0
	for _, n := range numbers {
		if !holdsNumber(s, n) {
			missing++
		}
	}
	return missing / max(1, float64(len(numbers)))
}

// weigh works the shares out, given how near what stands there comes to each term.
func (a *account) weigh(asked *wording.Asked, stated []float64) {
	a.united, a.stated, a.whole = asked.Share(a.near), asked.Share(stated), asked.Share(nearer(a.near, stated))
}

// recall returns what lessons say of a question, those alone that tell of a document
// which may be looked in; nil allows all.
func (l *Lessons) recall(q *question, m *matcher, allowed func(key string) bool) *recollection {
	out := &recollection{told: map[Place]marks{}, taught: map[Place]float64{}}
	if l == nil || len(l.all) == 0 {
		return out
	}
	may := func(at Place) bool { return allowed == nil || allowed(at.Key) }
	all := l.compare(q, m, may)
	accounts := l.accounts(all, q, m, may)
	for at, a := range accounts {
		exact, like := wording.Bits(a.near)
		out.told[at] = marks{exact, like}
	}
	compete(all, accounts)
	folded := foldedQuestion(q.standalone)
	for _, c := range all {
		likely := c.likeness.probability()
		if c.folded == folded {
			likely = 1 // somebody has said so
		}
		out.likest = append(out.likest, Recalled{c.Lesson, c.likeness, likely})
	}
	slices.SortStableFunc(out.likest, func(a, b Recalled) int {
		return cmp.Or(cmp.Compare(b.Likely, a.Likely), cmp.Compare(a.Question, b.Question))
	})
	out.likest = out.likest[:min(len(out.likest), mostRecalled)]
	for _, r := range out.heeded() {
		for _, at := range r.At {
			out.taught[at] = 1 - (1-out.taught[at])*(1-r.Likely) // any of them may be right
		}
	}
	return out
}

// compare returns the lessons that have the most of a question.
func (l *Lessons) compare(q *question, m *matcher, may func(Place) bool) []likened {
	all := l.candidates(m.asked, may)
	words, names := wordSet(q.standalone), properNames(q.standalone, q.language)
	m.asked.Each(len(all), func(reader wording.Reader, i int) {
		all[i].likeness, all[i].near = all[i].likenessTo(q, m, words, names, reader)
	})
	return slices.DeleteFunc(all, func(c likened) bool { return c.near == nil })
}

// candidates returns the lessons whose words, each by itself, have the most of a question.
func (l *Lessons) candidates(asked *wording.Asked, may func(Place) bool) []likened {
	near := make([][]float64, len(l.words)) // looked up once, whatever number of lessons has a word
	asked.Each(len(near), func(reader wording.Reader, i int) { near[i] = reader.Word(l.words[i].token, l.words[i].language) })
	type rough struct { // small, since thousands are put into order
		lesson int
		share  float64
	}
	var all []rough
	var best []float64
	for i := range l.all {
		clear(best)
		known := false
		for _, n := range l.all[i].numbered {
			if near[n] == nil {
				continue
			}
			if known = true; best == nil {
				best = make([]float64, len(near[n]))
			}
			for k, much := range near[n] {
				best[k] = max(best[k], much)
			}
		}
		if known && slices.ContainsFunc(l.all[i].At, may) {
			all = append(all, rough{i, asked.Share(best)})
		}
	}
	slices.SortStableFunc(all, func(a, b rough) int { return cmp.Compare(b.share, a.share) })
	out := make([]likened, min(len(all), mostCompared))
	for i := range out {
		out[i].learnt = &l.all[all[i].lesson]
	}
	return out
}

// accounts puts together what is said of each place.
func (l *Lessons) accounts(all []likened, q *question, m *matcher, may func(Place) bool) map[Place]*account {
	out := map[Place]*account{}
	var places []Place
	for _, c := range all {
		for _, at := range c.At {
			if !may(at) {
				continue
			}
			if out[at] == nil {
				out[at] = new(account)
				places = append(places, at)
			}
			out[at].near = nearer(out[at].near, c.near)
		}
	}
	m.asked.Each(len(places), func(reader wording.Reader, i int) {
		says, a := l.says[places[i]], out[places[i]]
		a.weigh(m.asked, reader.ReadTokens(says.tokens, says.language).Nearness())
		a.unfit = one(q.want.certain() && !m.with(reader).fits(q, says.text, says.sentence, says.language))
		a.misnumber = misnumbered(q.numbers, says.headings+" "+says.text)
	})
	return out
}

// nearer returns for each term the nearer of two.
func nearer(a, b []float64) []float64 {
	out := slices.Clone(b)
	for k, n := range a {
		out[k] = max(out[k], n)
	}
	return out
}

// compete fills in of each lesson's likeness what its place and its rivals say.
func compete(all []likened, accounts map[Place]*account) {
	var whole, fully race
	for i := range all {
		likeness := &all[i].likeness
		likeness.Unfit, likeness.Misnumber = 1, 1
		for _, at := range all[i].At {
			if a := accounts[at]; a != nil {
				likeness.Unfit, likeness.Misnumber = min(likeness.Unfit, a.unfit), min(likeness.Misnumber, a.misnumber)
				likeness.Stated, likeness.United, likeness.Whole = max(likeness.Stated, a.stated), max(likeness.United, a.united), max(likeness.Whole, a.whole)
			}
		}
		likeness.Fully = likeness.Whole * likeness.Lesson
		whole.enter(all[i].At[0], likeness.Whole)
		fully.enter(all[i].At[0], likeness.Fully)
	}
	for i := range all {
		likeness := &all[i].likeness
		likeness.Ahead, likeness.Lead = whole.ahead(all[i].At[0], likeness.Whole), fully.ahead(all[i].At[0], likeness.Fully)
	}
}

// A race knows the place with the most of something, and what the best of the others
// has.
type race struct {
	first      Place
	most, next float64
}

func (r *race) enter(at Place, has float64) {
	switch {
	case has > r.most && at != r.first:
		r.first, r.most, r.next = at, has, r.most
	case at == r.first:
		r.most = max(r.most, has)
	default:
		r.next = max(r.next, has)
	}
}

// mostAhead is as good as any more: where few lessons are known, most have no rival.
const mostAhead = 0.4

// ahead returns by how much what a lesson has is more than what another place has.
func (r *race) ahead(at Place, has float64) float64 {
	if at == r.first {
		return min(has-r.next, mostAhead)
	}
	return has - r.most
}

// heeded returns the lessons that have a say.
func (r *recollection) heeded() []Recalled {
	if r == nil {
		return nil
	}
	n := 0
	for n < min(len(r.likest), mostHeeded) && r.likest[n].Likely >= leastHeeded {
		n++
	}
	return r.likest[:n:n]
}

// vouching is how likely a lesson has to be for its place to need no look of its own.
const vouching = 0.5

// vouches tells whether one of the lessons makes it likely that a place answers.
func (r *recollection) vouches(at Place) bool {
	return slices.ContainsFunc(r.heeded(), func(l Recalled) bool { return l.Likely >= vouching && slices.Contains(l.At, at) })
}

// of returns what lessons say of a place: the terms that stand in them, and how likely it
// bears the answer.
func (r *recollection) of(at Place) (marks, float64) {
	if r == nil {
		return marks{}, 0
	}
	return r.told[at], r.taught[at]
}

// bringDefinitions adds the passages found farther behind that define what is asked about.
func (a *Asker) bringDefinitions(s *Search, q *question, m *matcher) error {
	if !q.whatIs {
		return nil
	}
	all, err := a.Rank.Read(&s.question, s.hits)
	if err != nil {
		return err
	}
	var places []Place
	for _, c := range all {
		doc, ok := a.Document(c.Hit.Key)
		if !ok {
			continue
		}
		for _, at := range c.Passage.Sentences {
			if m.isDefinition(q, c.Passage.Text[at.Start:at.End], doc.called(), c.Passage.Language) {
				places = append(places, Place{Key: c.Hit.Key, Ordinal: c.Hit.Ordinal})
				break
			}
		}
	}
	return a.bring(s, places...)
}

// bring adds the passages of some places to the candidates.
func (a *Asker) bring(s *Search, places ...Place) error {
	type passageOf struct {
		key     string
		ordinal int
	}
	kept, wanted, found := map[passageOf]bool{}, map[passageOf]bool{}, map[passageOf]bool{}
	for _, c := range s.Candidates {
		kept[passageOf{c.DocumentID, c.Ordinal}] = true
	}
	for _, h := range s.hits {
		found[passageOf{h.Key, h.Ordinal}] = true
	}
	missing := map[string][]int{}
	for _, at := range places {
		p := passageOf{at.Key, at.Ordinal}
		if kept[p] || wanted[p] {
			continue
		}
		wanted[p] = true
		if !found[p] {
			missing[at.Key] = append(missing[at.Key], at.Ordinal)
		}
	}
	if len(wanted) == 0 {
		return nil
	}
	s.hits = append(slices.Clip(s.hits), s.weighed.At(missing)...)
	s.Candidates = nil
	ranked, err := a.Rank.Read(&s.question, s.hits)
	if err != nil {
		return err
	}
	a.take(s, ranked, func(_ int, c rank.Candidate) bool {
		p := passageOf{c.Hit.Key, c.Hit.Ordinal}
		return kept[p] || wanted[p]
	})
	return nil
}
