package main

import (
	"bufio"
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"

	"jardinet/client"
)

// A daemon is the service as a process of its own.
type daemon struct {
	*client.Client
	cmd *exec.Cmd
}

var serving = regexp.MustCompile(`address=(http://\S+)`)

// serve starts the service on a data directory.
func serve(ctx context.Context, data string, more ...string) (*daemon, error) {
	program, err := os.Executable()
	if err != nil {
		return nil, err
	}
	cmd := exec.CommandContext(ctx, program, append([]string{"serve", "--data", data, "--listen", "127.0.0.1:0", "--recognise", "none"}, more...)...)
	cmd.Env = append(os.Environ(), asService+"=1")
	stderr, err := cmd.StderrPipe()
	if err != nil {
		return nil, err
	}
	if err := cmd.Start(); err != nil {
		return nil, err
	}
	var said strings.Builder
	for lines := bufio.NewScanner(stderr); lines.Scan(); {
		said.WriteString(lines.Text() + "\n")
		if m := serving.FindStringSubmatch(lines.Text()); m != nil {
			go io.Copy(io.Discard, stderr)
			c, err := client.New(m[1], "")
			return &daemon{c, cmd}, err
		}
	}
	return nil, errors.Join(fmt.Errorf("the service did not start:\n%s", said.String()), cmd.Wait())
}

// kill ends the service as a power cut would.
func (d *daemon) kill() {
	d.cmd.Process.Kill()
	d.cmd.Wait()
}

// stop ends it in good order.
func (d *daemon) stop() error {
	if err := d.cmd.Process.Signal(os.Interrupt); err != nil {
		return err
	}
	return d.cmd.Wait()
}

// held returns the memory that the service and its readers hold, in MiB.
func (d *daemon) held() int {
	return heldBy(d.cmd.Process.Pid)
}

func heldBy(pid int) int {
	total := 0
	if data, err := os.ReadFile(fmt.Sprintf("/proc/%d/statm", pid)); err == nil {
		if fields := strings.Fields(string(data)); len(fields) > 1 {
			pages, _ := strconv.Atoi(fields[1])
			total = pages * os.Getpagesize() >> 20
		}
	}
	children, _ := filepath.Glob(fmt.Sprintf("/proc/%d/task/*/children", pid))
	for _, path := range children {
		data, _ := os.ReadFile(path)
		for _, child := range strings.Fields(string(data)) {
			if n, err := strconv.Atoi(child); err == nil {
				total += heldBy(n)
			}
		}
	}
	return total
}

// demoFiles are the smaller documents of the demo, which are in quickly.
func demoFiles(most int64) ([]string, error) {
	all, err := filepath.Glob("demo/documents/*.pdf")
	if err != nil {
		return nil, err
	}
	var out []string
	for _, path := range all {
		if stat, err := os.Stat(path); err == nil && stat.Size() <= most && !strings.Contains(path, "scan") {
			out = append(out, path)
		}
	}
	return out, nil
}
