package accuracy

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"

	"jardinet/api"
	"jardinet/measure"
	"jardinet/service"
	"jardinet/store"
)

// A Part says which questions of a set are meant: of one version, and of one split or tag.
type Part struct {
	Version int    // 0 for the newest
	Split   string // empty for all
	Tag     string // empty for all
	Drafts  bool   // proposed questions too, that nobody has accepted
}

// String names the part in words; it is empty for the whole of the newest version.
func (p Part) String() string {
	var out []string
	if p.Split != "" {
		out = append(out, "split "+p.Split)
	}
	if p.Tag != "" {
		out = append(out, "tag "+p.Tag)
	}
	if p.Drafts {
		out = append(out, "with drafts")
	}
	return strings.Join(out, ", ")
}

// Sets returns a collection's question sets.
func (b *Bench) Sets(ctx context.Context, collection string) ([]api.QuestionSet, error) {
	id, err := b.service.CollectionID(collection)
	if err != nil {
		return nil, err
	}
	all, err := b.store.QuestionSets(ctx, id)
	if err != nil {
		return nil, err
	}
	out := []api.QuestionSet{}
	for i := range all {
		out = append(out, described(&all[i]))
	}
	return out, nil
}

func described(s *store.QuestionSet) api.QuestionSet {
	return api.QuestionSet{Name: s.Name, Version: s.Version, Created: s.Created, Changed: s.Changed, Questions: s.Questions, Drafts: s.Drafts}
}

// Set returns a set with the questions of a part.
func (b *Bench) Set(ctx context.Context, collection, name string, part Part) (*api.QuestionSet, error) {
	set, questions, err := b.questions(ctx, collection, name, part)
	if err != nil {
		return nil, err
	}
	out := described(set)
	if part.Version > 0 {
		out.Version = part.Version
	}
	out.All = questions
	return &out, nil
}

// Measurable returns a part of a set as what can be measured with.
func (b *Bench) Measurable(ctx context.Context, collection, name string, part Part) (*measure.Set, error) {
	set, questions, err := b.questions(ctx, collection, name, part)
	if err != nil {
		return nil, err
	}
	if len(questions) == 0 {
		return nil, invalid(fmt.Errorf("the question set %s has no such questions (%s); drafts count once they are accepted", name, part))
	}
	out, err := measure.NewSet(name, questions)
	if err != nil {
		return nil, err
	}
	out.Version, out.Part = set.Version, part.String()
	if part.Version > 0 {
		out.Version = part.Version
	}
	return out, nil
}

func (b *Bench) questions(ctx context.Context, collection, name string, part Part) (*store.QuestionSet, []measure.Question, error) {
	id, err := b.service.CollectionID(collection)
	if err != nil {
		return nil, nil, err
	}
	set, err := b.store.QuestionSet(ctx, id, name)
	if err != nil {
		return nil, nil, notFound("question set", name, err)
	}
	if part.Version < 0 || part.Version > set.Version {
		return nil, nil, invalid(fmt.Errorf("the question set %s has versions 1 to %d, and no version %d", name, set.Version, part.Version))
	}
	kept, err := b.store.Questions(ctx, set.ID, part.Version)
	if err != nil {
		return nil, nil, err
	}
	out := []measure.Question{}
	for _, k := range kept {
		var q measure.Question
		if err := json.Unmarshal(k.Data, &q); err != nil {
			return nil, nil, fmt.Errorf("question %s of %s: %w", k.ID, name, err)
		}
		if (part.Split == "" || q.Split == part.Split) && (part.Tag == "" || slices.Contains(q.Tags, part.Tag)) && (part.Drafts || !q.Draft) {
			out = append(out, q)
		}
	}
	return set, out, nil
}

// mostQuestions is how many a set may hold.
const mostQuestions = 20_000

// Import puts the questions of a file into a set, which is made if there is none: in the place of
// all that it holds, or only of those with the same ids.
func (b *Bench) Import(ctx context.Context, collection, name string, from *measure.Set, whole bool) (*api.QuestionSet, error) {
	return b.change(ctx, collection, name, from.Questions, nil, whole)
}

// Put puts one question into a set.
func (b *Bench) Put(ctx context.Context, collection, name string, q measure.Question) (*api.QuestionSet, error) {
	if err := (&measure.Set{Name: name, Questions: []measure.Question{q}}).Check(); err != nil {
		return nil, invalid(err)
	}
	return b.change(ctx, collection, name, []measure.Question{q}, nil, false)
}

// Remove takes questions out of a set; earlier versions still have them.
func (b *Bench) Remove(ctx context.Context, collection, name string, ids ...string) (*api.QuestionSet, error) {
	_, have, err := b.questions(ctx, collection, name, Part{Drafts: true})
	if err != nil {
		return nil, err
	}
	for _, id := range ids {
		if !slices.ContainsFunc(have, func(q measure.Question) bool { return q.ID == id }) {
			return nil, fmt.Errorf("question %q in %s: %w", id, name, service.ErrNotFound)
		}
	}
	return b.change(ctx, collection, name, nil, ids, false)
}

func (b *Bench) change(ctx context.Context, collection, name string, put []measure.Question, remove []string, whole bool) (*api.QuestionSet, error) {
	if err := checkName("question set", name); err != nil {
		return nil, err
	}
	id, err := b.service.CollectionID(collection)
	if err != nil {
		return nil, err
	}
	have := 0
	if set, err := b.store.QuestionSet(ctx, id, name); err == nil && !whole {
		have = set.Questions
	}
	if have+len(put) > mostQuestions {
		return nil, invalid(fmt.Errorf("the question set %s would hold more than %d questions; make a second one", name, mostQuestions))
	}
	kept := make([]store.SetQuestion, len(put))
	for i, q := range put {
		data, err := json.Marshal(q)
		if err != nil {
			return nil, fmt.Errorf("question %s: %w", q.ID, err)
		}
		kept[i] = store.SetQuestion{ID: q.ID, Data: data}
	}
	if _, err := b.store.ChangeSet(ctx, id, name, kept, remove, whole); err != nil {
		return nil, err
	}
	set, err := b.store.QuestionSet(ctx, id, name)
	if err != nil {
		return nil, err
	}
	out := described(set)
	return &out, nil
}

// RemoveSet removes a set with all its versions. Measurements made with it stay.
func (b *Bench) RemoveSet(ctx context.Context, collection, name string) error {
	id, err := b.service.CollectionID(collection)
	if err != nil {
		return err
	}
	return notFound("question set", name, b.store.RemoveQuestionSet(ctx, id, name))
}

// Gather puts questions that people have asked into a set, as drafts: those of kept
// conversations, those whose answers readers called wrong, or those that got no answer.
func (b *Bench) Gather(ctx context.Context, collection, name, from string) (*api.QuestionSet, error) {
	var found []measure.Question
	var err error
	switch from {
	case "conversations":
		found, err = b.kept(ctx, collection)
	case "reports":
		found, err = b.reported(ctx, collection)
	default:
		return nil, invalid(fmt.Errorf("there is nothing to gather from %q: choose conversations or reports", from))
	}
	if err != nil {
		return nil, err
	}
	_, have, err := b.questions(ctx, collection, name, Part{Drafts: true})
	if err != nil && !errors.Is(err, service.ErrNotFound) {
		return nil, err
	}
	known := map[string]bool{}
	for _, q := range have {
		known[measure.Substance(q.Question)], known[q.ID] = true, true
	}
	found = slices.DeleteFunc(found, func(q measure.Question) bool {
		key := measure.Substance(q.Question)
		twice := known[key] || known[q.ID]
		known[key] = true
		return twice
	})
	return b.change(ctx, collection, name, found, nil, false)
}

func (b *Bench) kept(ctx context.Context, collection string) ([]measure.Question, error) {
	all, err := b.service.Conversations(ctx, collection)
	if err != nil {
		return nil, err
	}
	var out []measure.Question
	for _, c := range all {
		whole, err := b.service.Conversation(ctx, collection, c.ID)
		if err != nil {
			return nil, err
		}
		for _, q := range whole.Questions() {
			q.Draft, q.Tags = true, []string{"asked"}
			if q.Answer != "" {
				q.Accept = []string{q.Answer}
			}
			out = append(out, q)
		}
	}
	return out, nil
}

func (b *Bench) reported(ctx context.Context, collection string) ([]measure.Question, error) {
	all, err := b.Reports(ctx, collection)
	if err != nil {
		return nil, err
	}
	var out []measure.Question
	for i := range all {
		if r := &all[i]; r.Says != "right" && !r.Done {
			out = append(out, measure.Question{
				ID: idOf("reported", r.Question+strings.Join(r.After, "\n")), Question: r.Question, After: r.After, Draft: true,
				Tags: []string{"reported", r.Says}, Comment: strings.TrimSpace(r.Comment),
			})
		}
	}
	return out, nil
}
