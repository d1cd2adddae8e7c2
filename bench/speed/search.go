package main

import (
	"context"
	"encoding/json"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"runtime"
	"slices"
	"strconv"
	"strings"
	"sync"
	"text/tabwriter"
	"time"

	"golang.org/x/sync/errgroup"

	"jardinet/embed"
	"jardinet/encoder"
	"jardinet/index"
)

// A search is one engine over one number of passages. Times of queries are in
// milliseconds.
type search struct {
	Engine   string  `json:"engine"`
	Passages int     `json:"passages"`
	Build    float64 `json:"build_s"`
	Size     float64 `json:"size_of_text"` // size on disk as a multiple of the text
	Start    float64 `json:"start_ms"`
	Memory   float64 `json:"memory_mib"` // resident after all queries
	P50      float64 `json:"p50_ms"`
	P95      float64 `json:"p95_ms"`
	P99      float64 `json:"p99_ms"`
	Busy     float64 `json:"p50_busy_ms"`  // with 2 × cores clients at once
	Recall   float64 `json:"recall_10"`    // of the passage that the words were taken from
	Asked50  float64 `json:"asked_p50_ms"` // with the questions of bench/questions, whole sentences
	Asked99  float64 `json:"asked_p99_ms"`
	// By words and meaning, with what it takes to encode the question.
	Hybrid50      float64 `json:"hybrid_p50_ms,omitempty"`
	Hybrid99      float64 `json:"hybrid_p99_ms,omitempty"`
	HybridAsked50 float64 `json:"hybrid_asked_p50_ms,omitempty"`
	HybridAsked99 float64 `json:"hybrid_asked_p99_ms,omitempty"`
	// By meaning alone, without that.
	Vector50     float64 `json:"vector_p50_ms,omitempty"`
	Vector99     float64 `json:"vector_p99_ms,omitempty"`
	VectorRecall float64 `json:"vector_recall_10,omitempty"` // of the ten that are really nearest
	Anonymous    float64 `json:"anonymous_mib,omitempty"`    // memory that is not of files

	Growth []grown `json:"growth,omitempty"`
}

// So many queries are timed, and so many whole questions.
const (
	queryCount = 300
	wholeCount = 100
)

func measureSearch(ctx context.Context, n int) ([]search, error) {
	dir := filepath.Join(cache, "search", strconv.Itoa(n))
	if err := os.RemoveAll(dir); err != nil {
		return nil, err
	}
	if err := os.MkdirAll(dir, 0o755); err != nil {
		return nil, err
	}
	asked, err := queries(n, queryCount)
	if err != nil {
		return nil, err
	}
	whole, err := questions()
	if err != nil {
		return nil, err
	}
	asked = append(asked, whole[:wholeCount]...)
	data, err := json.Marshal(asked)
	if err != nil {
		return nil, err
	}
	if err := os.WriteFile(filepath.Join(dir, "queries.json"), data, 0o644); err != nil {
		return nil, err
	}
	fts, bytes, err := searchFTS5(ctx, dir, n, asked)
	if err != nil {
		return nil, fmt.Errorf("FTS5: %w", err)
	}
	var built []grown
	if err := child(ctx, &built, "-build", dir, "-sizes", strconv.Itoa(n)); err != nil {
		return nil, err
	}
	var ours search
	if err := child(ctx, &ours, "-worker", dir); err != nil {
		return nil, err
	}
	ours.Passages, ours.Build, ours.Growth = n, built[len(built)-1].Seconds, built
	ours.Size = float64(diskUse(filepath.Join(dir, "index"))) / float64(bytes)
	return []search{ours, *fts}, nil
}

// space is that of the vectors that come with the program.
var space = index.Space{Model: embed.Name(), Dimensions: embed.Dimensions}

// searchOurs opens the index and asks the queries; it runs in a process of its
// own.
func searchOurs(dir string) search {
	out := search{Engine: "jardinet"}
	data, err := os.ReadFile(filepath.Join(dir, "queries.json"))
	if err != nil {
		return out
	}
	var asked []query
	if json.Unmarshal(data, &asked) != nil {
		return out
	}
	start := time.Now()
	x, err := index.Open(filepath.Join(dir, "index"), space)
	if err != nil {
		return out
	}
	out.Start = ms(time.Since(start))
	found := 0
	ask := func(q query) time.Duration {
		begin := time.Now()
		parsed := x.Parse(q.Words)
		hits, _ := x.Search(context.Background(), &parsed, 10)
		took := time.Since(begin)
		for _, h := range hits {
			if h.Key == keyOf(q.Target) && h.Ordinal == q.Target%1000 {
				found++
			}
		}
		return took
	}
	times := make([]time.Duration, len(asked))
	for i, q := range asked {
		times[i] = ask(q)
	}
	out.record(times, sampled(asked), found)
	hybrid, vectors, byVector := make([]time.Duration, len(asked)), make([][]float32, len(asked)), make([]time.Duration, len(asked))
	for i, q := range asked {
		begin := time.Now()
		parsed := x.Parse(q.Words)
		v, err := embed.Texts(context.Background(), encoder.Query, embed.Text{Body: q.Words, Language: "en"})
		if err != nil {
			return out
		}
		parsed.Vector, vectors[i] = v[0], v[0]
		x.Search(context.Background(), &parsed, 10)
		hybrid[i] = time.Since(begin)
		begin = time.Now()
		x.Search(context.Background(), &index.Query{Vector: v[0]}, 10)
		byVector[i] = time.Since(begin)
	}
	out.hybrid(hybrid, sampled(asked))
	out.Vector50, out.Vector99 = percentile(byVector, 0.5), percentile(byVector, 0.99)
	out.Busy = ms(busy(asked[:sampled(asked)], func(q query) { ask(q) }))
	out.Memory, out.Anonymous = status(os.Getpid(), "VmRSS:"), status(os.Getpid(), "RssAnon:")
	out.VectorRecall, _ = vectorRecall(x, x.Passages(), vectors[max(0, len(vectors)-exactQueries):])
	return out
}

// busy returns the median time with twice as many clients as cores.
func busy(asked []query, ask func(query)) time.Duration {
	clients := 2 * runtime.NumCPU()
	times := make([]time.Duration, len(asked))
	var wg sync.WaitGroup
	for c := range clients {
		wg.Go(func() {
			for i := c; i < len(asked); i += clients {
				begin := time.Now()
				ask(asked[i])
				times[i] = time.Since(begin)
			}
		})
	}
	wg.Wait()
	slices.Sort(times)
	return times[len(times)/2]
}

// record keeps what the times of all queries tell: first those whose words
// were taken from passages, then the questions.
func (s *search) record(times []time.Duration, sampledOnes, found int) {
	s.Recall = float64(found) / float64(sampledOnes)
	sampled, asked := times[:sampledOnes], times[sampledOnes:]
	s.P50, s.P95, s.P99 = percentile(sampled, 0.5), percentile(sampled, 0.95), percentile(sampled, 0.99)
	s.Asked50, s.Asked99 = percentile(asked, 0.5), percentile(asked, 0.99)
}

// hybrid keeps the times by words and meaning.
func (s *search) hybrid(times []time.Duration, sampledOnes int) {
	s.Hybrid50, s.Hybrid99 = percentile(times[:sampledOnes], 0.5), percentile(times[:sampledOnes], 0.99)
	s.HybridAsked50, s.HybridAsked99 = percentile(times[sampledOnes:], 0.5), percentile(times[sampledOnes:], 0.99)
}

// sampled returns how many of the queries were taken from passages; they come
// first.
func sampled(asked []query) int {
	if i := slices.IndexFunc(asked, func(q query) bool { return q.Target < 0 }); i >= 0 {
		return i
	}
	return len(asked)
}

// percentile returns the time that a share p of all times does not exceed, in
// milliseconds.
func percentile(times []time.Duration, p float64) float64 {
	if len(times) == 0 {
		return 0
	}
	sorted := slices.Sorted(slices.Values(times))
	return ms(sorted[min(len(sorted)-1, int(p*float64(len(sorted))))])
}

func ms(d time.Duration) float64 { return float64(d.Microseconds()) / 1000 }

var userTime = regexp.MustCompile(`Run Time: real ([\d.]+) user ([\d.]+) sys ([\d.]+)`)

// searchFTS5 builds and asks an FTS5 table with Debian's sqlite3: one row a
// passage, Porter stems, OR of the words, bm25().
func searchFTS5(ctx context.Context, dir string, n int, asked []query) (*search, int64, error) {
	lines := filepath.Join(dir, "corpus.txt")
	bytes, err := corpusFile(ctx, n, lines)
	if err != nil {
		return nil, 0, err
	}
	defer os.Remove(lines)
	db := filepath.Join(dir, "fts5.sqlite")
	start := time.Now()
	_, err = sqlite(ctx, db, "PRAGMA journal_mode=WAL; CREATE TABLE raw(id INTEGER PRIMARY KEY, heading, body);\n.mode ascii\n.import "+lines+" raw\n"+
		"CREATE VIRTUAL TABLE p USING fts5(heading, body, content='', tokenize='porter unicode61');\n"+
		"INSERT INTO p(rowid, heading, body) SELECT id, heading, body FROM raw; INSERT INTO p(p) VALUES('optimize'); PRAGMA wal_checkpoint(TRUNCATE);\n")
	if err != nil {
		return nil, 0, err
	}
	out := &search{Engine: "sqlite3 FTS5", Passages: n, Build: time.Since(start).Seconds(), Size: float64(diskUse(db)) / float64(bytes)}
	alone, err := askFTS5(ctx, db, asked)
	if err != nil {
		return nil, 0, err
	}
	out.Memory = alone.memory
	out.record(alone.times, sampled(asked), alone.found)
	together, err := busyFTS5(ctx, db, asked[:sampled(asked)])
	if err != nil {
		return nil, 0, err
	}
	out.Busy = percentile(together, 0.5)
	return out, bytes, nil
}

// An askedFTS5 is what one process of sqlite3 took for its queries.
type askedFTS5 struct {
	times  []time.Duration // CPU times of the statements
	waits  []time.Duration // what a client waits for them
	found  int
	memory float64
}

func askFTS5(ctx context.Context, db string, asked []query) (*askedFTS5, error) {
	var script strings.Builder
	script.WriteString(".timer on\n")
	for _, q := range asked {
		either := `"` + strings.Join(strings.Fields(strings.ReplaceAll(q.Words, "'", "''")), `" OR "`) + `"`
		fmt.Fprintf(&script, "SELECT 'hit', rowid FROM p WHERE p MATCH '%s' ORDER BY bm25(p, 1.5, 1.0) LIMIT 10;\n", either)
	}
	cmd := exec.CommandContext(ctx, "sqlite3", db)
	cmd.Stdin = strings.NewReader(script.String())
	printed, err := cmd.Output()
	if err != nil {
		return nil, err
	}
	out := &askedFTS5{memory: maxRSS(cmd.ProcessState)}
	for _, line := range strings.Split(string(printed), "\n") {
		at := len(out.times)
		if id, ok := strings.CutPrefix(line, "hit|"); ok && at < len(asked) && id == strconv.Itoa(asked[at].Target+1) {
			out.found++
		}
		if m := userTime.FindStringSubmatch(line); m != nil {
			out.times = append(out.times, seconds(m[2])+seconds(m[3]))
			out.waits = append(out.waits, seconds(m[1]))
		}
	}
	if len(out.times) != len(asked) {
		return nil, fmt.Errorf("%d of %d queries were timed", len(out.times), len(asked))
	}
	return out, nil
}

// busyFTS5 has twice as many processes as cores ask at the same time and
// returns what their clients wait.
func busyFTS5(ctx context.Context, db string, asked []query) ([]time.Duration, error) {
	clients := 2 * runtime.NumCPU()
	answers := make([]*askedFTS5, clients)
	group, ctx := errgroup.WithContext(ctx)
	for c := range clients {
		group.Go(func() (err error) {
			answers[c], err = askFTS5(ctx, db, asked[c*len(asked)/clients:(c+1)*len(asked)/clients])
			return err
		})
	}
	if err := group.Wait(); err != nil {
		return nil, err
	}
	var out []time.Duration
	for _, a := range answers {
		out = append(out, a.waits...)
	}
	return out, nil
}

func seconds(s string) time.Duration {
	f, _ := strconv.ParseFloat(s, 64)
	return time.Duration(f * float64(time.Second))
}

func sqlite(ctx context.Context, db, script string) ([]byte, error) {
	cmd := exec.CommandContext(ctx, "sqlite3", db)
	cmd.Stdin = strings.NewReader(script)
	out, err := cmd.CombinedOutput()
	if err != nil {
		return nil, fmt.Errorf("sqlite3: %w: %s", err, out)
	}
	return out, nil
}

func diskUse(path string) int64 {
	var n int64
	filepath.WalkDir(path, func(_ string, d os.DirEntry, err error) error {
		if err != nil || d.IsDir() {
			return err
		}
		if info, err := d.Info(); err == nil {
			n += info.Size()
		}
		return nil
	})
	return n
}

func printSearch(rows []search) {
	w := tabwriter.NewWriter(os.Stdout, 0, 0, 2, ' ', 0)
	fmt.Fprintln(w, "SEARCH\tPASSAGES\tBUILD S\tSIZE/TEXT\tSTART MS\tMEMORY MIB\tP50 MS\tP95 MS\tP99 MS\tP50 BUSY\tQUESTIONS P50\tP99\tWITH MEANING P50\tP99\tQUESTIONS P50\tP99\tBY MEANING P50\tP99\tRECALL@10\tOF THE NEAREST\tANON MIB")
	for _, r := range rows {
		fmt.Fprintf(w, "%s\t%d\t%.1f\t%.2f\t%.1f\t%.0f\t%.2f\t%.2f\t%.2f\t%.2f\t%.2f\t%.2f\t%.2f\t%.2f\t%.2f\t%.2f\t%.2f\t%.2f\t%.3f\t%.3f\t%.0f\n",
			r.Engine, r.Passages, r.Build, r.Size, r.Start, r.Memory, r.P50, r.P95, r.P99, r.Busy, r.Asked50, r.Asked99, r.Hybrid50, r.Hybrid99, r.HybridAsked50, r.HybridAsked99, r.Vector50, r.Vector99, r.Recall, r.VectorRecall, r.Anonymous)
	}
	w.Flush()
}
