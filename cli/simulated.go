package cli

import (
	"context"
	"errors"
	"fmt"
	"net"
	"net/http"
	"strings"
	"time"

	"github.com/spf13/cobra"

	"jardinet/simulated"
)

func (p *program) simulatedCommand() *cobra.Command {
	var listen, mode string
	cmd := &cobra.Command{
		Use:   "simulated-model",
		Short: "Run a simulated outside model, to try what becomes of answers with one",
		Long: `Run a simulated outside model: a server of embeddings and chat completions that
needs no model. It can behave well (good) or badly: add a statement that nothing
bears out (invents), cite what was not given (wrong), end in the middle (breaks),
follow instructions found in a document (obeys), be slow, busy or down.`,
		Example: "  jardinet simulated-model --mode invents\n  jardinet serve --model-host 127.0.0.1:7490\n  jardinet collection reindex manuals --embed-url http://127.0.0.1:7490/v1 --embed-model simulated",
		Args:    cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			s, err := simulated.New(simulated.Mode(mode))
			if err != nil {
				return err
			}
			listener, err := net.Listen("tcp", listen)
			if err != nil {
				return fmt.Errorf("the simulated model cannot listen: %w; choose another address with --listen", err)
			}
			p.printf("A simulated model (%s) answers on http://%s/v1. Stop it with Ctrl-C.\n", mode, listener.Addr())
			server := &http.Server{Handler: s, ReadHeaderTimeout: 10 * time.Second}
			stop := context.AfterFunc(cmd.Context(), func() { server.Close() })
			defer stop()
			if err := server.Serve(listener); !errors.Is(err, http.ErrServerClosed) {
				return err
			}
			return nil
		},
	}
	var modes []string
	for _, m := range simulated.Modes {
		modes = append(modes, string(m))
	}
	cmd.Flags().StringVar(&listen, "listen", "127.0.0.1:7490", "address to answer on")
	cmd.Flags().StringVar(&mode, "mode", string(simulated.Good), "how it behaves: "+strings.Join(modes, ", "))
	return cmd
}
