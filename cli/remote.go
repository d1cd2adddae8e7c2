//go:build client

package cli

import "github.com/spf13/cobra"

// local are none: this program only talks to services.
func (p *program) local() []*cobra.Command { return nil }
