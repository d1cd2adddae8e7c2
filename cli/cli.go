// Package cli is the command line: serve and demo run the service, all other
// commands call its API and print what comes back, for people or as JSON.
package cli

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"os"
	"os/signal"
	"path/filepath"
	"runtime/debug"
	"syscall"

	"github.com/spf13/cobra"
	"gopkg.in/yaml.v3"

	"jardinet/client"
)

// Version is the program's version; the Makefile sets it when it links.
var Version = "development"

func init() {
	if info, ok := debug.ReadBuildInfo(); ok && Version == "development" && info.Main.Version != "" && info.Main.Version != "(devel)" {
		Version = info.Main.Version
	}
}

// DefaultAddress is where the service listens unless told otherwise.
const DefaultAddress = "127.0.0.1:8090"

// A program is one run of the command line.
type program struct {
	in       io.Reader
	out, err io.Writer
	server   string
	config   string
	json     bool
}

// errQuiet ends a command with a non-zero status when all has been said.
var errQuiet = errors.New("")

// Run runs the command line and returns the exit status.
func Run(args []string, in io.Reader, out, errs io.Writer) int {
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	defer stop()
	p := &program{in: in, out: out, err: errs}
	root := p.root()
	root.SetArgs(args)
	root.SetOut(out)
	root.SetErr(errs)
	if err := root.ExecuteContext(ctx); err != nil {
		if !errors.Is(err, errQuiet) {
			fmt.Fprintln(errs, "jardinet:", err)
		}
		return 1
	}
	return 0
}

func (p *program) root() *cobra.Command {
	root := &cobra.Command{
		Use:   "jardinet",
		Short: "Answers from an organisation's PDF documents, with the page that proves them",
		Long: `Jardinet takes in PDF manuals, policies and reports, answers questions from
them with the page that proves each statement, and measures how right it is.

Start the service with "jardinet serve", or see it at work with "jardinet demo".
The other commands talk to a running service: the one given by --server, else by
JARDINET_SERVER, else by the file config.yaml (server: http://…) in the folder
jardinet of your configuration folder, else http://` + DefaultAddress + `. A key is taken from JARDINET_KEY or
that file (key: …).`,
		Version:       Version,
		SilenceUsage:  true,
		SilenceErrors: true,
	}
	root.PersistentFlags().StringVar(&p.server, "server", "", "address of the service")
	root.PersistentFlags().StringVar(&p.config, "config", "", "configuration file")
	root.PersistentFlags().BoolVar(&p.json, "json", false, "print JSON for programs")
	root.AddCommand(p.local()...)
	root.AddCommand(p.collectionCommand(), p.addCommand(), p.watchCommand(), p.unlockCommand(), p.notifyCommand(), p.digestCommand(), p.tablesCommand(), p.changesCommand(), p.summaryCommand(), p.listCommand(), p.sourcesCommand(), p.fieldsCommand(), p.documentsCommand(),
		p.removeCommand(), p.glossaryCommand(), p.lessonsCommand(), p.simulatedCommand(), p.findCommand(), p.askCommand(), p.conversationsCommand(), p.indexCommand(), p.styleCommand(), p.pageCommand(), p.findingsCommand(), p.correctCommand(), p.readCommand(), p.exportCommand(), p.tagCommand(), p.measureCommand(), p.measurementsCommand(), p.compareCommand(), p.reportCommand(), p.verdictsCommand(), p.questionsCommand(), p.trialCommand(), p.sweepCommand(), p.remeasureCommand(), p.mcpCommand(),
		p.peopleCommand(), p.keysCommand(), p.rightsCommand(), p.auditCommand(), p.hostsCommand(),
		p.checkCommand(), p.backupCommand(), p.binCommand())
	return root
}

// client returns a client of the service that is meant.
func (p *program) client() (*client.Client, error) {
	server, err := p.address()
	if err != nil {
		return nil, err
	}
	return client.New(server.Server, server.Key)
}

// A settings is what the configuration file holds.
type settings struct {
	Server string
	Key    string
}

// address finds the service and the key to it: flag, environment, file, default.
func (p *program) address() (settings, error) {
	out, err := p.configured()
	if err != nil {
		return out, err
	}
	if out.Server == "" {
		out.Server = DefaultAddress
	}
	if env := os.Getenv("JARDINET_SERVER"); env != "" {
		out.Server = env
	}
	if p.server != "" {
		out.Server = p.server
	}
	if env := os.Getenv("JARDINET_KEY"); env != "" {
		out.Key = env
	}
	return out, nil
}

// configured reads the configuration file, if there is one.
func (p *program) configured() (out settings, err error) {
	path := p.config
	if path == "" {
		dir, err := os.UserConfigDir()
		if err != nil {
			return out, nil
		}
		path = filepath.Join(dir, "jardinet", "config.yaml")
	}
	data, err := os.ReadFile(path)
	if errors.Is(err, os.ErrNotExist) && p.config == "" {
		return out, nil
	}
	if err != nil {
		return out, fmt.Errorf("configuration: %w", err)
	}
	if err := yaml.Unmarshal(data, &out); err != nil {
		return out, fmt.Errorf("configuration %s: %w; write it as \"server: http://%s\", with \"key: …\" on another line", path, err, DefaultAddress)
	}
	return out, nil
}

// pick returns the collection that is meant: the one named, or the only one.
func (p *program) pick(ctx context.Context, c *client.Client, name string) (string, error) {
	if name != "" {
		return name, nil
	}
	all, err := c.Collections(ctx)
	if err != nil {
		return "", err
	}
	switch len(all) {
	case 0:
		return "", errors.New("there is no collection yet; make one with: jardinet collection create NAME")
	case 1:
		return all[0].Name, nil
	}
	return "", errors.New("there are several collections; name one with --in (jardinet collection list shows them)")
}

// connect returns a client and puts the collection that is meant into in.
func (p *program) connect(ctx context.Context, in *string) (*client.Client, error) {
	c, err := p.client()
	if err != nil {
		return nil, err
	}
	*in, err = p.pick(ctx, c, *in)
	return c, err
}

// printJSON prints a value for programs.
func (p *program) printJSON(v any) error {
	e := json.NewEncoder(p.out)
	e.SetIndent("", "  ")
	e.SetEscapeHTML(false)
	return e.Encode(v)
}

func (p *program) printf(format string, args ...any) { fmt.Fprintf(p.out, format, args...) }
