// Command speed measures intake and search beside tools that everybody has:
// pdftotext and SQLite's FTS5 full-text index, through Debian's sqlite3.
//
//	go run ./bench/speed [-sizes 10000,100000,1000000] [-only intake|search|answers]
//
// Each measured program runs as a process of its own, so that memory is its
// own. Results go to bench/results/speed.json.
package main

import (
	"bytes"
	"context"
	"encoding/json"
	"flag"
	"fmt"
	"log"
	"os"
	"os/exec"
	"path/filepath"
	"runtime"
	"slices"
	"strconv"
	"strings"
	"text/tabwriter"

	"jardinet/bench/manuals"
	"jardinet/pdfium"
)

const cache = "bench/cache"

// A report is all that is measured.
type report struct {
	Machine string     `json:"machine"`
	Intake  []timing   `json:"intake,omitempty"`
	Search  []search   `json:"search,omitempty"`
	Answers *answering `json:"answers,omitempty"`
	Spread  *spread    `json:"spread,omitempty"`
}

func main() {
	pdfium.ServeReader()
	log.SetFlags(0)
	sizes := flag.String("sizes", "10000,100000", "numbers of passages, separated by commas")
	only := flag.String("only", "", "intake, search or answers")
	build := flag.String("build", "", "internal: build one index in this directory")
	worker := flag.String("worker", "", "internal: measure one engine on this directory")
	shards := flag.Int("shards", 0, "measure one index beside so many shards on hosts of their own, of as many passages as -sizes says, and nothing else")
	holder := flag.String("holder", "", "internal: hold the shard in this directory")
	url := flag.String("url", "", "internal: of the NATS server")
	flag.Parse()
	if *holder != "" {
		log.Fatal(hold(*holder, *url))
	}
	if *build != "" {
		n, err := strconv.Atoi(*sizes)
		if err != nil {
			log.Fatal(err)
		}
		built, err := buildOurs(*build, n)
		if err != nil {
			log.Fatal(err)
		}
		if err := json.NewEncoder(os.Stdout).Encode(built); err != nil {
			log.Fatal(err)
		}
		return
	}
	if *worker != "" {
		if err := json.NewEncoder(os.Stdout).Encode(searchOurs(*worker)); err != nil {
			log.Fatal(err)
		}
		return
	}
	if err := run(*sizes, *only, *shards); err != nil {
		log.Fatal("speed: ", err)
	}
}

func run(sizes, only string, shards int) error {
	ctx := context.Background()
	if err := manuals.Fetch(ctx, cache+"/manuals", log.Printf); err != nil {
		return err
	}
	const results = "bench/results/speed.json"
	var r report
	if data, err := os.ReadFile(results); err == nil {
		if err := json.Unmarshal(data, &r); err != nil { // what is not measured now stays
			return fmt.Errorf("%s: %w", results, err)
		}
	}
	r.Machine = fmt.Sprintf("%d cores, %s", runtime.NumCPU(), runtime.Version())
	var err error
	if shards > 0 {
		n, err := strconv.Atoi(sizes)
		if err != nil {
			return fmt.Errorf("size %q: %w", sizes, err)
		}
		if r.Spread, err = measureSpread(ctx, n, shards); err != nil {
			return err
		}
		r.Spread.print()
		only = "shards"
	}
	if only == "" || only == "intake" {
		if r.Intake, err = measureIntake(ctx); err != nil {
			return fmt.Errorf("intake: %w", err)
		}
		printIntake(r.Intake)
	}
	if only == "" || only == "search" {
		for _, size := range strings.Split(sizes, ",") {
			n, err := strconv.Atoi(size)
			if err != nil {
				return fmt.Errorf("size %q: %w", size, err)
			}
			rows, err := measureSearch(ctx, n)
			if err != nil {
				return fmt.Errorf("search over %d passages: %w", n, err)
			}
			r.Search = slices.DeleteFunc(r.Search, func(s search) bool { return s.Passages == n })
			r.Search = append(r.Search, rows...)
		}
		slices.SortStableFunc(r.Search, func(a, b search) int { return a.Passages - b.Passages })
		printSearch(r.Search)
		if err := drawGrowth(r.Search[len(r.Search)-2].Growth, "docs/growth.png"); err != nil {
			return err
		}
	}
	if only == "" || only == "answers" {
		if r.Answers, err = measureAnswers(ctx); err != nil {
			return fmt.Errorf("answers: %w", err)
		}
		r.Answers.print()
	}
	data, err := json.MarshalIndent(r, "", "  ")
	if err != nil {
		return err
	}
	if err := os.MkdirAll("bench/results", 0o755); err != nil {
		return err
	}
	return os.WriteFile(results, append(data, '\n'), 0o644)
}

// A timing is one way to read the manuals.
type timing struct {
	Name    string  `json:"name"`
	Seconds float64 `json:"seconds"`           // in our case until all is found by its words
	Settled float64 `json:"settled,omitempty"` // until all is found by its meaning too
	Pages   int     `json:"pages"`
	Memory  float64 `json:"peak_mib"` // of the largest process
}

// measureIntake times all manuals, end to end and durable, beside pdftotext on
// the same files.
func measureIntake(ctx context.Context) ([]timing, error) {
	var paths []string
	pages := 0
	for _, m := range manuals.Known() {
		path := filepath.Join(cache, "manuals", m.Name)
		paths = append(paths, path)
		out, err := exec.CommandContext(ctx, "pdfinfo", path).Output()
		if err != nil {
			return nil, fmt.Errorf("pdfinfo %s: %w", path, err)
		}
		for _, line := range strings.Split(string(out), "\n") {
			if rest, ok := strings.CutPrefix(line, "Pages:"); ok {
				n, _ := strconv.Atoi(strings.TrimSpace(rest))
				pages += n
			}
		}
	}
	ours, err := timeOurs(ctx, paths)
	if err != nil {
		return nil, err
	}
	plain, err := timeText(ctx, "pdftotext", paths)
	if err != nil {
		return nil, err
	}
	boxes, err := timeText(ctx, "pdftotext -bbox", paths, "-bbox")
	if err != nil {
		return nil, err
	}
	out := []timing{*ours, *plain, *boxes}
	for i := range out {
		out[i].Pages = pages
	}
	return out, nil
}

func printIntake(rows []timing) {
	w := tabwriter.NewWriter(os.Stdout, 0, 0, 2, ' ', 0)
	fmt.Fprintln(w, "INTAKE\tSECONDS\tPAGES/S\tPEAK MIB\tOF PDFTOTEXT")
	for _, r := range rows {
		fmt.Fprintf(w, "%s\t%.1f\t%.0f\t%.0f\t%.2f\n", r.Name, r.Seconds, float64(r.Pages)/r.Seconds, r.Memory, r.Seconds/rows[1].Seconds)
		if r.Settled > 0 {
			fmt.Fprintf(w, "  meaning, after that\t%.1f\t%.0f\n", r.Settled-r.Seconds, float64(r.Pages)/(r.Settled-r.Seconds))
		}
	}
	w.Flush()
}

// child runs this program again to measure in a process of its own.
func child(ctx context.Context, into any, args ...string) error {
	program, err := os.Executable()
	if err != nil {
		return err
	}
	cmd := exec.CommandContext(ctx, program, args...)
	var out bytes.Buffer
	cmd.Stdout, cmd.Stderr = &out, os.Stderr
	if err := cmd.Run(); err != nil {
		return err
	}
	return json.Unmarshal(out.Bytes(), into)
}
