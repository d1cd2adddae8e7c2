package main

import (
	"bufio"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"log"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"sync/atomic"
	"syscall"
	"time"

	"github.com/nats-io/nats.go"
	"golang.org/x/sync/errgroup"

	"jardinet/embed"
	"jardinet/encoder"
	"jardinet/index"
	"jardinet/natsserver"
	"jardinet/shard"
)

// A spread is what the same passages cost in one index and in shards on hosts of their own, which are
// processes on this machine and are asked over NATS.
type spread struct {
	Passages int     `json:"passages"`
	Shards   int     `json:"shards"`
	One      side    `json:"one"`
	Many     side    `json:"many"`
	Bytes    float64 `json:"bytes_a_question"` // over the network
	Same     float64 `json:"same"`             // share of questions with the same ten passages, to the score
}

// A side is one of the two.
type side struct {
	Words50   float64 `json:"words_p50_ms"`
	Words99   float64 `json:"words_p99_ms"`
	Both50    float64 `json:"both_p50_ms"`
	Both99    float64 `json:"both_p99_ms"`
	PerSecond float64 `json:"words_a_second"` // with twice as many clients as cores
	Processor float64 `json:"words_cpu_ms"`   // of all processes, for a question by words
	Memory    float64 `json:"anonymous_mib"`  // of the largest process that holds an index
}

const spreadQueries = 400

// measureSpread builds n passages in one index and in so many shards, and asks both.
func measureSpread(ctx context.Context, n, shards int) (*spread, error) {
	dir, err := os.MkdirTemp("", "jardinet-spread-")
	if err != nil {
		return nil, err
	}
	defer os.RemoveAll(dir)
	if err := buildSpread(dir, n, shards); err != nil {
		return nil, err
	}
	server, err := natsserver.Start(natsserver.Options{Name: "bench", Dir: filepath.Join(dir, "nats"), Listen: "127.0.0.1:0"})
	if err != nil {
		return nil, err
	}
	defer server.Stop()
	set := &shard.Set{Collection: "c", Of: shards, Known: new(shard.Known), Late: func(host string, late bool) {
		if late {
			log.Println(host, "is late")
		}
	}}
	set.Dead, set.Current, set.Unbuilt = func() []string { return nil }, func() []string { return nil }, func() []int { return nil }
	set.Hosts = func(k int) []string { return []string{strconv.Itoa(k)} }
	var processes []*exec.Cmd
	for k := range shards {
		p, part, err := startHolder(dir, k, server.URL())
		if err != nil {
			return nil, err
		}
		defer p.Wait()
		defer p.Process.Kill()
		processes, set.Parts = append(processes, p), append(set.Parts, part)
	}
	conn, err := nats.Connect(server.URL())
	if err != nil {
		return nil, err
	}
	defer conn.Close()
	var bytes atomic.Int64
	set.Ask = func(ctx context.Context, host string, request []byte) ([]byte, error) {
		msg, err := conn.RequestWithContext(ctx, "shard."+host, request)
		if err != nil {
			return nil, err
		}
		bytes.Add(int64(len(request) + len(msg.Data)))
		return msg.Data, nil
	}
	one, err := index.Open(filepath.Join(dir, "one"), space)
	if err != nil {
		return nil, err
	}
	asked, err := queries(n, spreadQueries)
	if err != nil {
		return nil, err
	}
	out := &spread{Passages: n, Shards: shards}
	if out.Same, err = same(ctx, one, set, asked); err != nil {
		return nil, err
	}
	cpu := func() float64 { return cpuOf(processes) }
	if out.One, err = askSpread(ctx, one, asked, cpu); err != nil {
		return nil, err
	}
	bytes.Store(0)
	if out.Many, err = askSpread(ctx, set, asked, cpu); err != nil {
		return nil, err
	}
	out.Bytes = float64(bytes.Load()) / float64(3*len(asked))
	out.One.Memory = status(os.Getpid(), "RssAnon:")
	for _, p := range processes {
		out.Many.Memory = max(out.Many.Memory, status(p.Process.Pid, "RssAnon:"))
	}
	return out, nil
}

// same returns for what share of the questions both find the same ten passages with the same scores.
func same(ctx context.Context, one, many index.Searcher, asked []query) (float64, error) {
	equal := 0
	for _, q := range asked {
		var found [2]string
		for i, x := range []index.Searcher{one, many} {
			parsed := index.Parse(q.Words, one.Languages())
			hits, err := x.Search(ctx, &parsed, 10)
			if err != nil {
				return 0, err
			}
			for _, h := range hits[:min(10, len(hits))] {
				found[i] += fmt.Sprintf("%s/%d %v ", h.Key, h.Ordinal, h.Score)
			}
		}
		if found[0] == found[1] {
			equal++
		}
	}
	return float64(equal) / float64(len(asked)), nil
}

// askSpread times the questions on an index.
func askSpread(ctx context.Context, x index.Searcher, asked []query, cpu func() float64) (out side, err error) {
	vectors := make([][]float32, len(asked))
	for i, q := range asked {
		v, err := embed.Texts(ctx, encoder.Query, embed.Text{Body: q.Words, Language: "en"})
		if err != nil {
			return out, err
		}
		vectors[i] = v[0]
	}
	ask := func(q query, vector []float32) (time.Duration, error) {
		begin := time.Now()
		parsed := index.Parse(q.Words, x.Languages())
		parsed.Vector = vector
		_, err := x.Search(ctx, &parsed, 10)
		return time.Since(begin), err
	}
	words, both := make([]time.Duration, len(asked)), make([]time.Duration, len(asked))
	before := cpu()
	for i, q := range asked {
		if words[i], err = ask(q, nil); err != nil {
			return out, err
		}
	}
	out.Processor = 1000 * (cpu() - before) / float64(len(asked))
	for i, q := range asked {
		if both[i], err = ask(q, vectors[i]); err != nil {
			return out, err
		}
	}
	began := time.Now()
	var failed atomic.Pointer[error]
	busy(asked, func(q query) {
		if _, err := ask(q, nil); err != nil {
			failed.Store(&err)
		}
	})
	out.PerSecond = float64(len(asked)) / time.Since(began).Seconds()
	if err := failed.Load(); err != nil {
		return out, *err
	}
	out.Words50, out.Words99 = percentile(words, .5), percentile(words, .99)
	out.Both50, out.Both99 = percentile(both, .5), percentile(both, .99)
	return out, nil
}

// cpuOf is how many seconds of the processor this process and others have had.
func cpuOf(processes []*exec.Cmd) float64 {
	var usage syscall.Rusage
	if err := syscall.Getrusage(syscall.RUSAGE_SELF, &usage); err != nil {
		return 0
	}
	sum := time.Duration(usage.Utime.Nano() + usage.Stime.Nano()).Seconds()
	for _, p := range processes {
		data, err := os.ReadFile(fmt.Sprintf("/proc/%d/stat", p.Process.Pid))
		if err != nil {
			continue
		}
		fields := strings.Fields(string(data[strings.LastIndex(string(data), ")")+1:]))
		for _, i := range []int{11, 12} { // utime and stime, in hundredths
			n, _ := strconv.Atoi(fields[i])
			sum += float64(n) / 100
		}
	}
	return sum
}

// buildSpread builds one index of all passages, and each shard beside it.
func buildSpread(dir string, n, shards int) error {
	var all []*index.Index
	for k := range shards {
		x, err := index.Open(filepath.Join(dir, strconv.Itoa(k)), space)
		if err != nil {
			return err
		}
		all = append(all, x)
	}
	one, err := index.Open(filepath.Join(dir, "one"), space)
	if err != nil {
		return err
	}
	return batches(n, 40, func(batch []index.Document, _ int) error {
		parted := make([][]index.Document, shards)
		for _, d := range batch {
			k := shard.Of("c", d.Key, shards)
			parted[k] = append(parted[k], d)
		}
		var writing errgroup.Group
		for k := range shards {
			writing.Go(func() error { return all[k].Apply(parted[k], nil) })
		}
		return errors.Join(one.Apply(batch, nil), writing.Wait())
	})
}

// startHolder starts a process that holds a shard, and returns what it says of it.
func startHolder(dir string, k int, url string) (*exec.Cmd, shard.Part, error) {
	var part shard.Part
	cmd := exec.Command(os.Args[0], "-holder", filepath.Join(dir, strconv.Itoa(k)), "-url", url)
	cmd.Stderr = os.Stderr
	out, err := cmd.StdoutPipe()
	if err != nil {
		return nil, part, err
	}
	if err := cmd.Start(); err != nil {
		return nil, part, err
	}
	line, err := bufio.NewReader(out).ReadBytes('\n')
	if err != nil {
		return nil, part, fmt.Errorf("shard %d: %w", k, err)
	}
	if err := json.Unmarshal(line, &part.Totals); err != nil {
		return nil, part, err
	}
	part.Shard, part.Generation = k, 1
	return cmd, part, nil
}

// hold answers what is asked about a shard until it is killed.
func hold(dir, url string) error {
	x, err := index.Open(dir, space)
	if err != nil {
		return err
	}
	conn, err := nats.Connect(url)
	if err != nil {
		return err
	}
	holder := &shard.Holder{Index: func(context.Context, string, int, uint64) (*index.Index, bool) { return x, true }}
	if _, err := conn.Subscribe("shard."+filepath.Base(dir), func(msg *nats.Msg) {
		go func() { _ = msg.Respond(holder.Answer(context.Background(), msg.Data)) }()
	}); err != nil {
		return err
	}
	if err := conn.Flush(); err != nil {
		return err
	}
	if err := json.NewEncoder(os.Stdout).Encode(x.Totals()); err != nil {
		return err
	}
	select {}
}

func (s *spread) print() {
	fmt.Printf("%d passages, in one index and in %d shards, each in a process of its own\n", s.Passages, s.Shards)
	fmt.Printf("%-12s %10s %10s %10s %10s %12s %10s %10s\n", "", "words p50", "p99", "both p50", "p99", "questions/s", "cpu ms", "MiB")
	for i, c := range []side{s.One, s.Many} {
		name := []string{"one index", "shards"}[i]
		fmt.Printf("%-12s %10.2f %10.2f %10.2f %10.2f %12.1f %10.2f %10.0f\n", name, c.Words50, c.Words99, c.Both50, c.Both99, c.PerSecond, c.Processor, c.Memory)
	}
	fmt.Printf("%.0f bytes a question over the network; %.3f of the questions find the same ten passages with the same scores\n", s.Bytes, s.Same)
}
