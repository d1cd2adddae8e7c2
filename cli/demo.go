//go:build !client

package cli

import (
	"context"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"syscall"
	"time"

	"github.com/spf13/cobra"

	"jardinet/api"
	"jardinet/client"
	"jardinet/demo"
	"jardinet/modelapi"
	"jardinet/service"
)

func (p *program) demoCommand() *cobra.Command {
	var data, listen string
	var background, stop bool
	cmd := &cobra.Command{
		Use:   "demo",
		Short: "Run the service with the documents of a made-up botanical garden",
		Long: `Run the service with a collection of made-up documents, those of the Halvern
Botanic Trust, and say what to try. With --background the command ends when all
documents are ready and leaves the service running; --stop ends it.`,
		Example: "  jardinet demo\n  jardinet demo --background\n  jardinet demo --stop",
		Args:    cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			switch {
			case stop:
				return p.stopDemo(data)
			case background:
				return p.startDemo(cmd.Context(), data, listen)
			}
			return p.serve(cmd.Context(), service.Options{Data: data, Outside: &modelapi.Policy{Hosts: []string{"127.0.0.1:7490"}}, Log: slog.New(slog.NewTextHandler(p.err, &slog.HandlerOptions{Level: slog.LevelWarn}))}, onThisMachine(listen), func(s *service.Service, address string) error {
				if err := os.WriteFile(addressFile(data), []byte(address), 0o644); err != nil {
					return err
				}
				if err := os.WriteFile(pidFile(data), []byte(strconv.Itoa(os.Getpid())), 0o644); err != nil {
					return err
				}
				if err := p.fillDemo(cmd.Context(), s); err != nil {
					return err
				}
				p.printDemo(address)
				return os.WriteFile(readyFile(data), []byte(address), 0o644)
			})
		},
	}
	cmd.Flags().StringVar(&data, "data", "demo-data", "directory that holds all state")
	cmd.Flags().StringVar(&listen, "listen", DefaultAddress, "address to listen on")
	cmd.Flags().BoolVar(&background, "background", false, "leave the service running and end when it is ready")
	cmd.Flags().BoolVar(&stop, "stop", false, "end the service left running in the background")
	return cmd
}

func pidFile(data string) string     { return filepath.Join(data, "demo.pid") }
func addressFile(data string) string { return filepath.Join(data, "demo.address") }
func readyFile(data string) string   { return filepath.Join(data, "demo.ready") }

// fillDemo adds the demo's documents and waits until each is ready or failed.
func (p *program) fillDemo(ctx context.Context, s *service.Service) error {
	events, cancel := s.Listen()
	defer cancel()
	if _, err := s.AddDemo(ctx); err != nil {
		return err
	}
	started, bar := time.Now(), p.newBar()
	defer bar.clear()
	for {
		docs, err := s.Documents(ctx, demo.Collection)
		if err != nil {
			return err
		}
		byID := map[string]api.Document{}
		for _, d := range docs {
			byID[d.ID] = d
		}
		bar.draw(byID, started)
		if all(byID, (*api.Document).Settled) {
			return nil
		}
		select {
		case <-ctx.Done():
			return ctx.Err()
		case <-events:
		}
	}
}

func (p *program) printDemo(address string) {
	p.printf(`
The documents of the Halvern Botanic Trust are ready: %s

Three things to try:
  1. Open %s and ask: How long may seed stay out of the vault?
  2. bin/jardinet ask "What do I do when the cold store alarm rings?" --in %s --server %s
  3. bin/jardinet measure demo/questions.jsonl --in %s --server %s

`, address, address, demo.Collection, address, demo.Collection, address)
}

// startDemo starts the demo in the background, unless it runs already, and
// ends when it is ready.
func (p *program) startDemo(ctx context.Context, data, listen string) error {
	if address, ok := running(ctx, data); ok {
		p.printDemo(address)
		return nil
	}
	if err := os.MkdirAll(data, 0o755); err != nil {
		return err
	}
	os.Remove(readyFile(data))
	program, err := os.Executable()
	if err != nil {
		return err
	}
	log, err := os.Create(filepath.Join(data, "demo.log"))
	if err != nil {
		return err
	}
	defer log.Close()
	cmd := exec.Command(program, "demo", "--data", data, "--listen", listen)
	cmd.Stdout, cmd.Stderr = log, log
	detach(cmd)
	if err := cmd.Start(); err != nil {
		return err
	}
	ended := make(chan error, 1)
	go func() { ended <- cmd.Wait() }()
	if err := p.followDemo(ctx, data, ended); err != nil {
		return fmt.Errorf("the demo did not start (%w); its log says:\n%s", err, lastLines(log.Name()))
	}
	return nil
}

// followDemo draws the intake's progress until the demo is ready.
func (p *program) followDemo(ctx context.Context, data string, ended <-chan error) error {
	tick := time.NewTicker(50 * time.Millisecond)
	defer tick.Stop()
	started, bar := time.Now(), p.newBar()
	defer bar.clear()
	for {
		select {
		case <-ctx.Done():
			return ctx.Err()
		case err := <-ended:
			return errors.Join(errors.New("it ended"), err)
		case <-tick.C:
		}
		if ready, err := os.ReadFile(readyFile(data)); err == nil && len(ready) > 0 {
			bar.clear()
			p.printDemo(string(ready))
			return nil
		}
		address, err := os.ReadFile(addressFile(data))
		if err != nil {
			continue
		}
		c, err := client.New(string(address), "")
		if err != nil {
			continue
		}
		if docs, err := c.Documents(ctx, demo.Collection); err == nil {
			byID := map[string]api.Document{}
			for _, d := range docs {
				byID[d.ID] = d
			}
			bar.draw(byID, started)
		}
	}
}

// running tells whether the demo on this data answers, and where.
func running(ctx context.Context, data string) (address string, ok bool) {
	ready, err := os.ReadFile(readyFile(data))
	if err != nil {
		return "", false
	}
	address = string(ready)
	req, err := http.NewRequestWithContext(ctx, http.MethodGet, address+"/healthz", nil)
	if err != nil {
		return "", false
	}
	resp, err := http.DefaultClient.Do(req)
	if err != nil {
		return "", false
	}
	defer resp.Body.Close()
	io.Copy(io.Discard, resp.Body)
	return address, resp.StatusCode == http.StatusOK
}

func lastLines(path string) string {
	data, _ := os.ReadFile(path)
	lines := strings.Split(strings.TrimSpace(string(data)), "\n")
	return strings.Join(lines[max(0, len(lines)-8):], "\n")
}

func (p *program) stopDemo(data string) error {
	raw, err := os.ReadFile(pidFile(data))
	if err != nil {
		return fmt.Errorf("no demo runs on %s", data)
	}
	pid, err := strconv.Atoi(string(raw))
	if err != nil {
		return fmt.Errorf("%s is damaged; end the service by hand", pidFile(data))
	}
	process, err := os.FindProcess(pid)
	if err == nil {
		err = process.Signal(syscall.SIGTERM)
	}
	os.Remove(pidFile(data))
	os.Remove(readyFile(data))
	if err != nil {
		return fmt.Errorf("no demo runs on %s any more", data)
	}
	p.printf("Stopped the demo.\n")
	return nil
}
