// Command tutorial runs what the documents in scripts show on the demo's documents, and writes
// them into docs with what each command printed.
//
//	go run ./tools/tutorial [tutorial | programs]
package main

import (
	"bytes"
	"embed"
	"encoding/json"
	"fmt"
	"log"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strings"
)

// scripts are text, and lines with a $ whose output is put under them. {0} stands for the newest
// measurement's id, {1} for the one before it.
//
//go:embed scripts
var scripts embed.FS

const jardinet = "bin/jardinet"

func main() {
	log.SetFlags(0)
	names := os.Args[1:]
	if len(names) == 0 {
		names = []string{"tutorial", "programs"}
	}
	for _, name := range names {
		if err := run(name); err != nil {
			log.Fatalf("tutorial: %s: %v", name, err)
		}
	}
}

func run(name string) error {
	script, err := scripts.ReadFile("scripts/" + name + ".md")
	if err != nil {
		return err
	}
	dir, err := os.MkdirTemp("", "tutorial")
	if err != nil {
		return err
	}
	defer os.RemoveAll(dir)
	stop, err := serve(filepath.Join(dir, "data"))
	if err != nil {
		return err
	}
	defer stop()
	var out strings.Builder
	for line := range strings.Lines(string(script)) {
		command, ok := strings.CutPrefix(strings.TrimRight(line, "\n"), "$ ")
		if !ok {
			out.WriteString(line)
			continue
		}
		if err := one(&out, command, dir); err != nil {
			return err
		}
	}
	return os.WriteFile("docs/"+name+".md", []byte(out.String()), 0o644)
}

// serve starts the service on an address of its own, which commands find in their environment.
func serve(data string) (stop func(), err error) {
	cmd := exec.Command(jardinet, "serve", "--data", data, "--listen", "127.0.0.1:0")
	stderr, err := cmd.StderrPipe()
	if err != nil {
		return nil, err
	}
	if err := cmd.Start(); err != nil {
		return nil, err
	}
	stop = func() { cmd.Process.Signal(os.Interrupt); cmd.Wait() }
	address := regexp.MustCompile(`address=(http://\S+)`)
	said := make([]byte, 0, 4096)
	for {
		chunk := make([]byte, 1024)
		n, err := stderr.Read(chunk)
		if err != nil {
			return nil, fmt.Errorf("the service did not start: %s", said)
		}
		said = append(said, chunk[:n]...)
		if m := address.FindSubmatch(said); m != nil {
			go func() {
				for err == nil {
					_, err = stderr.Read(chunk)
				}
			}()
			return stop, os.Setenv("JARDINET_SERVER", string(m[1]))
		}
	}
}

// one runs a command and writes it down with what it printed. One that fails, as a gate may, tells
// its status.
func one(out *strings.Builder, command, dir string) error {
	command, err := filled(command)
	if err != nil {
		return err
	}
	cmd := exec.Command("sh", "-c", "{ "+strings.ReplaceAll(command, "jardinet ", jardinet+" ")+"; } 2>"+filepath.Join(dir, "errors"))
	printed, err := cmd.Output()
	errors, readErr := os.ReadFile(filepath.Join(dir, "errors"))
	if readErr != nil {
		return readErr
	}
	fmt.Fprintf(out, "    $ %s\n", command)
	text := append(printed, withoutProgress(errors)...)
	for line := range strings.Lines(string(text)) {
		out.WriteString(strings.TrimRight("    "+strings.TrimRight(line, "\n"), " ") + "\n")
	}
	if exit, ok := err.(*exec.ExitError); ok {
		fmt.Fprintf(out, "    (ends with status %d)\n", exit.ExitCode())
	} else if err != nil {
		return err
	}
	log.Print(command)
	return nil
}

// withoutProgress leaves out lines that are written over as work goes on.
func withoutProgress(errors []byte) []byte {
	var kept []byte
	for _, line := range bytes.SplitAfter(errors, []byte("\n")) {
		if !bytes.Contains(line, []byte("\r")) {
			kept = append(kept, line...)
		}
	}
	return kept
}

// filled puts measurements' ids in.
func filled(command string) (string, error) {
	if !strings.Contains(command, "{") {
		return command, nil
	}
	data, err := exec.Command(jardinet, "measurements", "--json").Output()
	if err != nil {
		return "", fmt.Errorf("list the measurements: %w", err)
	}
	var all struct{ Measurements []struct{ ID string } }
	if err := json.Unmarshal(data, &all); err != nil {
		return "", err
	}
	for i, m := range all.Measurements {
		command = strings.ReplaceAll(command, fmt.Sprintf("{%d}", i), m.ID)
	}
	return command, nil
}
