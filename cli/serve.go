//go:build !client

package cli

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"os"
	"path/filepath"
	"runtime/debug"
	"time"

	"github.com/spf13/cobra"

	"jardinet/accuracy"
	"jardinet/hooks"
	"jardinet/modelapi"
	"jardinet/people"
	"jardinet/server"
	"jardinet/service"
	"jardinet/sources"
	"jardinet/spans"
)

// local are the commands that are the service themselves; a program built with the tag
// client does without them, and so without the store and the PDF engine.
func (p *program) local() []*cobra.Command {
	return []*cobra.Command{p.serveCommand(), p.demoCommand(), p.restoreCommand(), p.natsCommand()}
}

func (p *program) serveCommand() *cobra.Command {
	var data, level string
	var scripts, hosts, secrets []string
	var days, memory int
	var renew, leave bool
	var where reach
	var join joining
	cmd := &cobra.Command{
		Use:   "serve",
		Short: "Run the service",
		Long: `Run the service on a data directory, which is made if it does not exist.

It listens on this machine alone, and everybody on it may do everything, until the
first administrator is made with the link that it prints. From then on people sign
in and programs send keys (see "jardinet people" and "jardinet keys"), and --listen
may name an address that others reach. Give it a certificate then, or put it behind
a proxy that has one (--proxy, --https).`,
		Example: `  jardinet serve --data /var/lib/jardinet
  jardinet serve --listen 10.0.0.5:443 --host manuals.example --tls-cert cert.pem --tls-key key.pem
  jardinet serve --listen 10.0.0.5:8090 --host manuals.example --proxy 10.0.0.1 --https
  jardinet serve --cluster nats://10.0.0.1:4222,nats://10.0.0.2:4222,nats://10.0.0.3:4222 --name a`,
		Args: cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			log, err := p.logger(level)
			if err != nil {
				return err
			}
			keys, err := modelapi.ReadSecrets(secrets)
			if err != nil {
				return err
			}
			opts := service.Options{Outside: &modelapi.Policy{Hosts: hosts, Secrets: keys}, LeaveCluster: leave, Memory: memory, Data: data, Log: log, Scripts: scripts, AuditFor: time.Duration(days) * 24 * time.Hour}
			where.joins, where.renew = &join, renew
			return p.serve(cmd.Context(), opts, where, nil)
		},
	}
	cmd.Flags().StringVar(&data, "data", "jardinet-data", "directory that holds all state")
	where.flags(cmd)
	join.flags(cmd)
	cmd.Flags().StringArrayVar(&secrets, "secret", nil, "secret that settings may name as the key of an outside model, NAME=FILE (repeatable)")
	cmd.Flags().StringArrayVar(&hosts, "model-host", nil, "host, or host:port, of an outside model that settings may name (repeatable)")
	cmd.Flags().StringArrayVar(&where.sources.Fetch.Hosts, "fetch-host", nil, "host that documents may be fetched from, such as www.example, *.example or * (repeatable)")
	cmd.Flags().BoolVar(&where.sources.Fetch.Private, "fetch-private", false, "fetch from hosts in networks that are not public, too")
	cmd.Flags().StringArrayVar(&where.sources.Folders, "watch-below", nil, "directory of this machine that may be watched, with all below it (repeatable)")
	cmd.Flags().BoolVar(&leave, "leave-cluster", false, "go on alone with the records of a cluster that this host was part of")
	cmd.Flags().BoolVar(&renew, "new-administrator", false, "print a link for one more administrator, after the others have lost their passphrases")
	cmd.Flags().IntVar(&memory, "memory", 0, "MiB of memory that the service and its readers may use; 0 for what the machine has")
	cmd.Flags().IntVar(&days, "audit-days", 365, "for how many days it is kept who did what; 0 for ever")
	cmd.Flags().StringSliceVar(&scripts, "recognise", nil, "languages of text recognition, such as eng,deu; none to do without")
	cmd.Flags().StringVar(&level, "log", "info", "what to log: debug, info, warn or error")
	return cmd
}

// closingSpans is how long a collector is waited for at the end.
const closingSpans = 2 * time.Second

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
func (p *program) serve(ctx context.Context, opts service.Options, where reach, started func(*service.Service, string) error) error {
	// Intake makes much short-lived memory; collecting it half as often is worth
	// more than the memory.
	debug.SetGCPercent(200)
	if opts.Memory > 0 {
		debug.SetMemoryLimit(int64(opts.Memory) << 20 / 3)
	}
	unlock, err := lock(opts.Data)
	if err != nil {
		return err
	}
	defer unlock()
	var secrets map[string]string
	if opts.Outside != nil {
		secrets = opts.Outside.Secrets
	}
	reached, err := where.options(secrets)
	if err != nil {
		return err
	}
	listener, address, err := where.listener()
	if err != nil {
		return err
	}
	if where.collector != "" {
		if reached.Spans, err = spans.Start(ctx, where.collector, Version); err != nil {
			listener.Close()
			return err
		}
		defer func() { _ = reached.Spans.Close(closingSpans) }() // what is lost then is told by nobody
	}
	opts.Version = Version
	if where.joins != nil {
		joined, end, err := where.joins.options(opts.Data, address, Version)
		if err != nil {
			listener.Close()
			return err
		}
		defer end()
		if joined != nil {
			joined.Log = opts.Log
		}
		opts.Cluster = joined
	}
	s, err := service.Open(ctx, opts)
	if err != nil {
		listener.Close()
		return err
	}
	defer func() { err = errors.Join(err, s.Close()) }()
	in, err := people.Open(ctx, s, where.renew)
	if err != nil {
		listener.Close()
		return err
	}
	if in.IsOpen() && !isLoopback(listener.Addr()) {
		listener.Close()
		return fmt.Errorf("nobody has been let in yet, so whoever reaches %s could do everything; start the service once with --listen %s, open the link that it prints, and make yourself its administrator", where.listen, DefaultAddress)
	}
	opts.Log.Info("serving", "address", address, "data", opts.Data, "version", Version)
	if starter := in.Starter(); starter != "" && started == nil {
		if in.IsOpen() {
			fmt.Fprintln(p.err, "Everybody on this machine may do everything. To let only some people in, make yourself administrator:")
		} else {
			fmt.Fprintln(p.err, "Make yourself administrator; this link works once:")
		}
		fmt.Fprintf(p.err, "  %s/begin#%s\n", address, starter)
	}
	ctx, cancel := context.WithCancel(ctx)
	defer cancel()
	served := make(chan error, 1)
	where.sources.Log, where.sources.Secrets = opts.Log, secrets
	from := sources.Open(s, where.sources)
	defer from.Close()
	told := hooks.Open(s, hooks.Options{Addresses: where.webhooks, Secrets: secrets, Log: opts.Log})
	defer told.Close()
	bench := accuracy.Open(s, told)
	defer bench.Close()
	go func() {
		served <- server.Serve(ctx, listener, server.Parts{Service: s, People: in, Bench: bench, Sources: from, Hooks: told}, reached, opts.Log)
	}()
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
	if err := os.MkdirAll(data, 0o700); err != nil {
		return nil, fmt.Errorf("data directory: %w", err)
	}
	f, err := os.OpenFile(filepath.Join(data, "lock"), os.O_CREATE|os.O_RDWR, 0o600)
	if err != nil {
		return nil, fmt.Errorf("data directory: %w", err)
	}
	if err := lockFile(f); err != nil {
		f.Close()
		return nil, fmt.Errorf("another service uses %s; stop it, or choose another directory with --data", data)
	}
	return func() { f.Close() }, nil
}
