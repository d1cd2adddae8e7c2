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

	"github.com/klauspost/compress/s2"

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
	Busy     float64 `json:"p50_busy_ms"` // with 2 × cores clients at once
	Recall   float64 `json:"recall_10"`   // of the passage that the words were taken from
}

// queryCount is how many queries are timed.
const queryCount = 300

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
	built, err := buildOurs(filepath.Join(dir, "index"), n)
	if err != nil {
		return nil, err
	}
	var ours search
	if err := child(ctx, &ours, "-worker", dir); err != nil {
		return nil, err
	}
	ours.Passages, ours.Build = n, built.Seconds()
	ours.Size = float64(diskUse(filepath.Join(dir, "index"))) / float64(bytes)
	return []search{ours, *fts}, nil
}

// buildOurs indexes the corpus, a thousand passages a document and twenty
// documents a commit.
func buildOurs(dir string, n int) (time.Duration, error) {
	start := time.Now()
	x, err := index.Open(dir)
	if err != nil {
		return 0, err
	}
	var batch []index.Document
	err = corpus(n, func(i int, p made) error {
		if i%1000 == 0 {
			if len(batch) == 20 {
				if err := x.Apply(batch, nil); err != nil {
					return err
				}
				batch = nil
			}
			batch = append(batch, index.Document{Key: fmt.Sprintf("d%06d", i/1000)})
		}
		d := &batch[len(batch)-1]
		d.Passages = append(d.Passages, index.Passage{Heading: p.Heading, Body: p.Body, Language: "en", Stored: s2.Encode(nil, []byte(p.Body))})
		return nil
	})
	if err != nil {
		return 0, err
	}
	return time.Since(start), x.Apply(batch, nil)
}

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
	x, err := index.Open(filepath.Join(dir, "index"))
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
			if h.Key == fmt.Sprintf("d%06d", q.Target/1000) && h.Ordinal == q.Target%1000 {
				found++
			}
		}
		return took
	}
	times := make([]time.Duration, len(asked))
	for i, q := range asked {
		times[i] = ask(q)
	}
	out.Recall = float64(found) / float64(len(asked))
	out.percentiles(times)
	out.Busy = ms(busy(asked, func(q query) { ask(q) }))
	out.Memory = status(os.Getpid(), "VmRSS:")
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

func (s *search) percentiles(times []time.Duration) {
	slices.Sort(times)
	at := func(p float64) float64 { return ms(times[min(len(times)-1, int(p*float64(len(times))))]) }
	s.P50, s.P95, s.P99 = at(0.5), at(0.95), at(0.99)
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
	var script strings.Builder
	script.WriteString(".timer on\n")
	for _, q := range asked {
		fmt.Fprintf(&script, "SELECT 'hit', rowid FROM p WHERE p MATCH '%s' ORDER BY bm25(p, 1.5, 1.0) LIMIT 10;\n", strings.Join(strings.Fields(q.Words), " OR "))
	}
	cmd := exec.CommandContext(ctx, "sqlite3", db)
	cmd.Stdin = strings.NewReader(script.String())
	printed, err := cmd.Output()
	if err != nil {
		return nil, 0, err
	}
	out.Memory = maxRSS(cmd.ProcessState)
	found, at := 0, 0
	var times []time.Duration
	for _, line := range strings.Split(string(printed), "\n") {
		if id, ok := strings.CutPrefix(line, "hit|"); ok && at < len(asked) && id == strconv.Itoa(asked[at].Target+1) {
			found++
		}
		if m := userTime.FindStringSubmatch(line); m != nil {
			times = append(times, seconds(m[2])+seconds(m[3]))
			at++
		}
	}
	if len(times) != len(asked) {
		return nil, 0, fmt.Errorf("%d of %d queries were timed", len(times), len(asked))
	}
	out.Recall = float64(found) / float64(len(asked))
	out.percentiles(times)
	return out, bytes, nil
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
	fmt.Fprintln(w, "SEARCH\tPASSAGES\tBUILD S\tSIZE/TEXT\tSTART MS\tMEMORY MIB\tP50 MS\tP95 MS\tP99 MS\tP50 BUSY\tRECALL@10")
	for _, r := range rows {
		fmt.Fprintf(w, "%s\t%d\t%.1f\t%.2f\t%.1f\t%.0f\t%.2f\t%.2f\t%.2f\t%.2f\t%.3f\n",
			r.Engine, r.Passages, r.Build, r.Size, r.Start, r.Memory, r.P50, r.P95, r.P99, r.Busy, r.Recall)
	}
	w.Flush()
}
