package main

import (
	"bufio"
	"context"
	"fmt"
	"io"
	"os"
	"os/exec"
	"regexp"
	"strconv"
	"strings"
	"time"

	"jardinet/api"
	"jardinet/client"
)

var serving = regexp.MustCompile(`address=(http://\S+)`)

// timeOurs runs the service as a process and times `add` until all is found by its words,
// and until all is found by its meaning.
func timeOurs(ctx context.Context, paths []string) (*timing, error) {
	data, err := os.MkdirTemp("", "jardinet-speed-")
	if err != nil {
		return nil, err
	}
	defer os.RemoveAll(data)
	cmd := exec.CommandContext(ctx, "bin/jardinet", "serve", "--data", data, "--listen", "127.0.0.1:0", "--recognise", "none") // pdftotext recognises nothing either
	stderr, err := cmd.StderrPipe()
	if err != nil {
		return nil, err
	}
	if err := cmd.Start(); err != nil {
		return nil, fmt.Errorf("%w; run make build first", err)
	}
	defer func() { cmd.Process.Kill(); cmd.Wait() }()
	lines := bufio.NewScanner(stderr)
	address := ""
	for address == "" && lines.Scan() {
		if m := serving.FindStringSubmatch(lines.Text()); m != nil {
			address = m[1]
		}
	}
	go io.Copy(io.Discard, stderr)
	c, err := client.New(address, "")
	if err != nil {
		return nil, err
	}
	if _, err := c.CreateCollection(ctx, "manuals", nil); err != nil {
		return nil, err
	}
	start := time.Now()
	if _, _, err := c.Add(ctx, "manuals", paths); err != nil {
		return nil, err
	}
	docs, err := c.Settle(ctx, "manuals", (*api.Document).Searchable)
	if err != nil {
		return nil, err
	}
	took := time.Since(start).Seconds()
	if _, err := c.Settle(ctx, "manuals", (*api.Document).Settled); err != nil {
		return nil, err
	}
	settled := time.Since(start).Seconds()
	var failed []string
	for _, d := range docs {
		if d.State == "failed" {
			failed = append(failed, d.Name+": "+d.Reason)
		}
	}
	if len(failed) > 0 {
		return nil, fmt.Errorf("not taken in: %s", strings.Join(failed, "; "))
	}
	peak := 0.0
	for _, pid := range append(children(cmd.Process.Pid), cmd.Process.Pid) {
		peak += peakMemory(pid)
	}
	return &timing{Name: "jardinet, all processes", Seconds: took, Settled: settled, Memory: peak}, nil
}

// timeText times pdftotext over all files, one after another.
func timeText(ctx context.Context, name string, paths []string, args ...string) (*timing, error) {
	t := &timing{Name: name}
	for _, path := range paths {
		cmd := exec.CommandContext(ctx, "pdftotext", append(args, path, "-")...)
		start := time.Now()
		if err := cmd.Run(); err != nil {
			return nil, fmt.Errorf("%s %s: %w", name, path, err)
		}
		t.Seconds += time.Since(start).Seconds()
		t.Memory = max(t.Memory, maxRSS(cmd.ProcessState))
	}
	return t, nil
}

func children(pid int) []int {
	data, _ := os.ReadFile(fmt.Sprintf("/proc/%d/task/%d/children", pid, pid))
	var out []int
	for _, field := range strings.Fields(string(data)) {
		if n, err := strconv.Atoi(field); err == nil {
			out = append(out, n)
		}
	}
	return out
}

// peakMemory returns the most memory that a process has had, in MiB.
func peakMemory(pid int) float64 { return status(pid, "VmHWM:") }

func status(pid int, key string) float64 {
	data, _ := os.ReadFile(fmt.Sprintf("/proc/%d/status", pid))
	for _, line := range strings.Split(string(data), "\n") {
		if rest, ok := strings.CutPrefix(line, key); ok {
			kib, _ := strconv.ParseFloat(strings.Fields(rest)[0], 64)
			return kib / 1024
		}
	}
	return 0
}
