package accuracy

import (
	"cmp"
	"context"
	"fmt"
	"math"
	"math/rand/v2"
	"os"
	"slices"
	"strconv"
	"time"

	"jardinet/answer"
	"jardinet/api"
	"jardinet/measure"
	"jardinet/passage"
	"jardinet/rank"
	"jardinet/service"
	"jardinet/store"
)

// Bounds of a sweep.
const (
	sweepMinutes = 10
	mostMinutes  = 24 * 60
	mostTried    = 500
	folds        = 5
	batch        = 40 // questions asked before it is looked whether a set-up can still win
)

// Sweep starts a job that tries many set-ups with one question set and says which is best.
//
// The choice is made as often as there are folds, each time by the questions about four fifths of
// the documents, and counted on those about the rest: so the figure that is told is of
// questions that the choice did not see (Stone, 1974).
func (b *Bench) Sweep(ctx context.Context, collection string, plan api.SweepPlan) (*api.Job, error) {
	if plan.Minutes == 0 {
		plan.Minutes = sweepMinutes
	}
	if plan.Minutes < 0 || plan.Minutes > mostMinutes {
		return nil, invalid(fmt.Errorf("a sweep of %g minutes: choose up to %d", plan.Minutes, mostMinutes))
	}
	if _, err := measure.FigureOf(plan.Figure, nil); err != nil {
		return nil, invalid(err)
	}
	set, err := b.Measurable(ctx, collection, plan.Set, Part{})
	if err != nil {
		return nil, err
	}
	live, err := b.service.Setup(ctx, collection)
	if err != nil {
		return nil, err
	}
	grid, err := b.grid(ctx, live, &plan)
	if err != nil {
		return nil, err
	}
	j, err := b.start(ctx, collection, "sweep", fmt.Sprintf("trying %d set-ups with %s", len(grid), set.Name), len(grid), func(ctx context.Context, j *job) (string, error) {
		s := sweeper{bench: b, job: j, collection: collection, plan: &plan, set: set, live: live, ends: time.Now().Add(time.Duration(plan.Minutes * float64(time.Minute)))}
		return s.run(ctx, grid)
	})
	if err != nil {
		return nil, err
	}
	return j.told(), nil
}

// grid returns every combination of a plan's values that can be made, in an order drawn by its
// seed, so that what fits into the time is a fair sample. Where a plan says nothing of a setting, it
// is the live one's.
func (b *Bench) grid(ctx context.Context, live *api.Setup, plan *api.SweepPlan) ([]api.Setup, error) {
	out := []api.Setup{}
	seen := map[string]bool{}
	for _, cut := range or(plan.Cuts, string(live.Recipe.Passage.Cut)) {
		for _, target := range or(plan.Targets, live.Recipe.Passage.Target) {
			for _, overlap := range or(plan.Overlaps, live.Recipe.Passage.Overlap) {
				for _, by := range or(plan.Retrieval, string(live.Recipe.Retrieval)) {
					for _, passages := range or(plan.Passages, live.Passages) {
						s := *live
						s.Recipe.Passage = passage.Recipe{Cut: passage.Cut(cut), Target: target, Overlap: min(overlap, target/2)}
						s.Recipe.Retrieval, s.Passages = rank.By(by), passages
						if err := b.service.CheckSetup(ctx, &s); err != nil {
							return nil, err
						}
						key := fmt.Sprintf("%+v", s.Essence())
						if !seen[key] {
							seen[key], out = true, append(out, s)
						}
					}
				}
			}
		}
	}
	for _, c := range plan.Certain {
		if c < 0 || c > 1 {
			return nil, invalid(fmt.Errorf("certain is %g: choose 0 to 1", c))
		}
	}
	if len(out) > mostTried {
		return nil, invalid(fmt.Errorf("the plan has %d combinations, and %d at most can be tried; leave some values out", len(out), mostTried))
	}
	random := rand.New(rand.NewPCG(plan.Seed, 1974))
	random.Shuffle(len(out), func(i, k int) { out[i], out[k] = out[k], out[i] })
	// Those over one index stand together, since making it takes longest.
	first := map[passage.Recipe]int{}
	for i, s := range out {
		if _, ok := first[s.Recipe.Passage]; !ok {
			first[s.Recipe.Passage] = i
		}
	}
	slices.SortStableFunc(out, func(x, y api.Setup) int {
		return cmp.Compare(first[x.Recipe.Passage], first[y.Recipe.Passage])
	})
	return out, nil
}

func or[T any](values []T, fallback T) []T {
	if len(values) == 0 {
		return []T{fallback}
	}
	return values
}

// A sweeper is one sweep under way.
type sweeper struct {
	bench      *Bench
	job        *job
	collection string
	plan       *api.SweepPlan
	set        *measure.Set
	live       *api.Setup
	ends       time.Time
	tried      []attempt
	best       int // of those that were asked every question; -1 for none yet
	skipped    int
}

// An attempt is a set-up with what it made of the questions.
type attempt struct {
	setup    api.Setup
	records  []measure.Record // fewer than there are questions if it was given up
	passages int
	p50      float64 // ms
}

func (s *sweeper) run(ctx context.Context, grid []api.Setup) (string, error) {
	s.best = -1
	stand, err := s.bench.service.Live(ctx, s.collection)
	if err != nil {
		return "", err
	}
	if err := s.try(ctx, stand, *s.live); err != nil {
		return "", err
	}
	id, err := s.bench.service.CollectionID(s.collection)
	if err != nil {
		return "", err
	}
	name := "sweep-" + s.job.ID
	dir := s.bench.trialDir(id, name)
	defer os.RemoveAll(dir)
	for i, setup := range grid {
		s.job.progress(i, len(grid))
		if time.Now().After(s.ends) {
			s.skipped = len(grid) - i
			break
		}
		if i == 0 || setup.Recipe.Passage != grid[i-1].Recipe.Passage {
			if stand, err = s.bench.service.Build(ctx, s.collection, name, setup, dir, func(int, int) {}); err != nil {
				return "", err
			}
		}
		over, err := stand.With(ctx, setup)
		if err != nil {
			return "", err
		}
		if err := s.try(ctx, over, setup); err != nil {
			return "", err
		}
	}
	out := s.result()
	return out.ID, s.bench.store.SetBenchItem(ctx, id, sweepKind, out.ID, out)
}

// try asks a set-up the questions, some at a time, and gives it up when it can hardly be the best
// any more. Answers are taken down to the lowest threshold of the plan; higher ones are told from
// their confidence.
func (s *sweeper) try(ctx context.Context, stand *service.Stand, setup api.Setup) error {
	lowest := slices.Min(s.thresholds())
	setup.Certain = lowest
	over, err := stand.With(ctx, setup)
	if err != nil {
		return err
	}
	var records []measure.Record
	for some := range slices.Chunk(s.set.Questions, batch) {
		part, err := measure.NewSet(s.set.Name, some)
		if err != nil {
			return err
		}
		m, err := over.Quick().Measure(ctx, part, nil)
		if err != nil {
			return err
		}
		records = append(records, m.Records...)
		if len(records) < len(s.set.Questions) && s.loses(records) {
			break
		}
	}
	p50, err := s.time(ctx, over)
	if err != nil {
		return err
	}
	for _, certain := range s.thresholds() {
		setup.Certain = certain
		s.tried = append(s.tried, attempt{setup, measure.RefuseBelow(records, cmp.Or(certain, answer.Threshold())), over.Passages(), p50})
		if len(records) == len(s.set.Questions) && (s.best < 0 || s.value(len(s.tried)-1) > s.value(s.best)) {
			s.best = len(s.tried) - 1
		}
	}
	return nil
}

// timed is how many questions are asked for the time that answers take.
const timed = 12

// time asks some questions as if for the first time. Those of a sweep are mostly answered from
// what was read for them with another set-up.
func (s *sweeper) time(ctx context.Context, over *service.Stand) (p50 float64, err error) {
	some, err := measure.NewSet(s.set.Name, s.set.Questions[:min(timed, len(s.set.Questions))])
	if err != nil {
		return 0, err
	}
	m, err := over.Measure(ctx, some, nil)
	if err != nil {
		return 0, err
	}
	return m.Stages[len(m.Stages)-1].P50, nil
}

// thresholds are those to be tried, each for the one it stands for.
func (s *sweeper) thresholds() []float64 {
	all := or(s.plan.Certain, s.live.Certain)
	if len(s.tried) == 0 {
		all = []float64{s.live.Certain}
	}
	out := make([]float64, len(all))
	for i, c := range all {
		out[i] = cmp.Or(c, answer.Threshold())
	}
	return out
}

func (s *sweeper) value(i int) float64 {
	f, _ := measure.FigureOf(s.plan.Figure, s.tried[i].records)
	return up(f)
}

// up turns a figure so that more is better.
func up(f measure.Figure) float64 {
	if measure.LessIsBetter(f.Name) {
		return -f.Value
	}
	return f.Value
}

// loses tells whether a set-up is behind the best so far by more than two standard errors, over the
// same questions.
func (s *sweeper) loses(records []measure.Record) bool {
	if s.best < 0 {
		return false
	}
	best := s.tried[s.best].records
	n, sum, squares := float64(len(records)), 0.0, 0.0
	for i := range records {
		d := 0.0
		if records[i].Succeeded() {
			d++
		}
		if best[i].Succeeded() {
			d--
		}
		sum, squares = sum+d, squares+d*d
	}
	mean := sum / n
	return mean+2*math.Sqrt((squares/n-mean*mean)/n) < 0
}

// result says which set-up is best, and by how much on questions that the choice did not see.
func (s *sweeper) result() *api.Sweep {
	out := &api.Sweep{ID: store.NewID(), Plan: *s.plan, Created: time.Now().UTC().Truncate(time.Second), Best: -1, Folds: folds, Skipped: s.skipped, Tried: []api.Tried{}}
	out.Live = s.told(0)
	order := []int{}
	for i := 1; i < len(s.tried); i++ {
		order = append(order, i)
	}
	slices.SortStableFunc(order, func(x, y int) int {
		whole := func(i int) bool { return len(s.tried[i].records) == len(s.set.Questions) }
		if whole(x) != whole(y) {
			if whole(x) {
				return -1
			}
			return 1
		}
		return cmp.Compare(s.value(y), s.value(x))
	})
	for _, i := range order {
		t := s.told(i)
		if t.Stopped {
			out.Stopped++
		}
		out.Tried = append(out.Tried, t)
	}
	frontier(out.Tried)
	honest := s.crossValidated()
	out.Honest, _ = measure.FigureOf(s.plan.Figure, honest)
	out.P = 1
	if s.best > 0 && len(order) > 0 && s.value(order[0]) > s.value(0) {
		out.Best = 0
		if c, err := measure.CompareFigure(s.plan.Figure, s.tried[0].records, s.tried[order[0]].records); err == nil {
			out.P = c.P
		}
	}
	return out
}

func (s *sweeper) told(i int) api.Tried {
	a := s.tried[i]
	f, _ := measure.FigureOf(s.plan.Figure, a.records)
	return api.Tried{Setup: a.setup, Figure: f, Passages: a.passages, Questions: len(a.records), Stopped: len(a.records) < len(s.set.Questions), P50: a.p50}
}

// frontier marks what nothing else beats in both the figure and the time.
func frontier(tried []api.Tried) {
	better := func(a, b api.Tried) bool { // a than b
		value, other := up(a.Figure), up(b.Figure)
		return value >= other && a.P50 <= b.P50 && (value > other || a.P50 < b.P50)
	}
	for i := range tried {
		tried[i].Frontier = !tried[i].Stopped && !slices.ContainsFunc(tried, func(t api.Tried) bool { return !t.Stopped && better(t, tried[i]) })
	}
}

// crossValidated returns the records that one would have had if the set-up for the questions of
// each fold had been chosen by those of the others.
func (s *sweeper) crossValidated() []measure.Record {
	fold := func(r *measure.Record) int {
		name := r.ID
		if len(r.Evidence) > 0 {
			name = r.Evidence[0].Document
			if len(r.Evidence[0].All) > 0 {
				name = r.Evidence[0].All[0].Document
			}
		}
		n, _ := strconv.ParseUint(idOf("", name)[1:], 16, 64)
		return int(n % folds)
	}
	var out []measure.Record
	for k := range folds {
		best, most := -1, 0.0
		for i, a := range s.tried {
			if len(a.records) < len(s.set.Questions) {
				continue
			}
			var seen []measure.Record
			for j := range a.records {
				if fold(&a.records[j]) != k {
					seen = append(seen, a.records[j])
				}
			}
			f, _ := measure.FigureOf(s.plan.Figure, seen)
			if v := up(f); best < 0 || v > most {
				best, most = i, v
			}
		}
		for j := range s.tried[best].records {
			if r := s.tried[best].records[j]; fold(&r) == k {
				out = append(out, r)
			}
		}
	}
	return out
}

// Sweeps returns a collection's sweeps, the latest first.
func (b *Bench) Sweeps(ctx context.Context, collection string) ([]api.Sweep, error) {
	out, _, err := keptItems[api.Sweep](ctx, b, collection, sweepKind, "sweep")
	return out, err
}
