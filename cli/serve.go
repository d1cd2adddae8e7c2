//go:build !client

package cli

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"os"
	"path/filepath"
	"runtime/debug"

	"github.com/spf13/cobra"

	"jardinet/server"
	"jardinet/service"
)

// local are the commands that are the service themselves; a program built with the tag
// client does without them, and so without the store and the PDF engine.
func (p *program) local() []*cobra.Command {
	return []*cobra.Command{p.serveCommand(), p.demoCommand()}
}

func (p *program) serveCommand() *cobra.Command {
	var data, listen, level string
	var scripts []string
	cmd := &cobra.Command{
		Use:   "serve",
		Short: "Run the service",
		Long: `Run the service on a data directory, which is made if it does not exist. It
listens on this machine alone unless --listen names another address; it asks for
no password, so put it behind a proxy that does before you open it to others.`,
		Example: "  jardinet serve --data /var/lib/jardinet --listen 127.0.0.1:8090",
		Args:    cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			log, err := p.logger(level)
			if err != nil {
				return err
			}
			return p.serve(cmd.Context(), service.Options{Data: data, Log: log, Scripts: scripts}, listen, nil)
		},
	}
	cmd.Flags().StringVar(&data, "data", "jardinet-data", "directory that holds all state")
	cmd.Flags().StringVar(&listen, "listen", DefaultAddress, "address to listen on")
	cmd.Flags().StringSliceVar(&scripts, "recognise", nil, "languages of text recognition, such as eng,deu; none to do without")
	cmd.Flags().StringVar(&level, "log", "info", "what to log: debug, info, warn or error")
	return cmd
}

// logger writes structured logs to standard error.
func (p *program) logger(level string) (*slog.Logger, error) {
	var l slog.Level
	if err := l.UnmarshalText([]byte(level)); err != nil {
		return nil, fmt.Errorf("--log %s: use debug, info, warn or error", level)
	}
	return slog.New(slog.NewTextHandler(p.err, &slog.HandlerOptions{Level: l})), nil
}

// serve runs the service until ctx is done. started, if not nil, is called
// with the address once it listens.
func (p *program) serve(ctx context.Context, opts service.Options, listen string, started func(*service.Service, string) error) error {
	// Intake makes much short-lived memory; collecting it half as often is worth
	// more than the memory.
	debug.SetGCPercent(200)
	unlock, err := lock(opts.Data)
	if err != nil {
		return err
	}
	defer unlock()
	listener, err := net.Listen("tcp", listen)
	if err != nil {
		return fmt.Errorf("listen on %s: %w; choose another address with --listen", listen, err)
	}
	opts.Version = Version
	s, err := service.Open(ctx, opts)
	if err != nil {
		listener.Close()
		return err
	}
	defer func() { err = errors.Join(err, s.Close()) }()
	address := "http://" + listener.Addr().String()
	opts.Log.Info("serving", "address", address, "data", opts.Data, "version", Version)
	ctx, cancel := context.WithCancel(ctx)
	defer cancel()
	served := make(chan error, 1)
	go func() { served <- server.Serve(ctx, listener, s, opts.Log) }()
	if started != nil {
		if err := started(s, address); err != nil {
			cancel()
			<-served
			return err
		}
	}
	err = <-served
	opts.Log.Info("stopped")
	return err
}

// lock keeps a second service off the same data.
func lock(data string) (unlock func(), err error) {
	if err := os.MkdirAll(data, 0o755); err != nil {
		return nil, fmt.Errorf("data directory: %w", err)
	}
	f, err := os.OpenFile(filepath.Join(data, "lock"), os.O_CREATE|os.O_RDWR, 0o644)
	if err != nil {
		return nil, fmt.Errorf("data directory: %w", err)
	}
	if err := lockFile(f); err != nil {
		f.Close()
		return nil, fmt.Errorf("another service uses %s; stop it, or choose another directory with --data", data)
	}
	return func() { f.Close() }, nil
}
