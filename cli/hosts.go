package cli

import (
	"cmp"
	"fmt"
	"strconv"
	"strings"

	"github.com/spf13/cobra"

	"jardinet/api"
)

func (p *program) hostsCommand() *cobra.Command {
	return &cobra.Command{
		Use:   "hosts",
		Short: "See the hosts that share their records",
		Long: `See the hosts of a cluster: whether each answers, how far it is behind, which
shards it has, what it has to do, and how much room it has. The shards follow, with
the hosts that have each, and what waits in the queues. A host that is alone says so.`,
		Example: "  jardinet hosts --server http://10.0.0.5:8090",
		Args:    cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			c, err := p.client()
			if err != nil {
				return err
			}
			all, err := c.Hosts(cmd.Context())
			if err != nil {
				return err
			}
			if p.json {
				return p.printJSON(all)
			}
			p.printHosts(all)
			return nil
		},
	}
}

func (p *program) printHosts(all *api.Hosts) {
	rows := [][]string{{"HOST", "STATE", "BEHIND", "SHARDS", "READING", "ASKED", "FREE", "ROLES", "DUTIES", "ADDRESS"}}
	for _, h := range all.Hosts {
		rows = append(rows, []string{
			h.Name, hostState(&h), strconv.FormatUint(h.Behind, 10), numbers(h.Shards), strconv.Itoa(h.Reading), strconv.Itoa(h.Asked),
			fmt.Sprintf("%.1f GiB", float64(h.Free)/(1<<30)), strings.Join(h.Roles, ","), cmp.Or(strings.Join(h.Duties, ","), "-"), cmp.Or(h.Address, "-"),
		})
	}
	p.table(rows)
	if all.Alone {
		fmt.Fprintln(p.out, "\nThis host is alone: it shares its records with no other.")
		return
	}
	rows = [][]string{{"SHARD", "PASSAGES", "WRITTEN BY", "ALSO ON", "UP TO DATE"}}
	for _, s := range all.Shards {
		writer, also := "nobody", []string{}
		if len(s.Hosts) > 0 {
			writer, also = s.Hosts[0], s.Hosts[1:]
		}
		rows = append(rows, []string{strconv.Itoa(s.Shard), strconv.Itoa(s.Passages), writer, cmp.Or(strings.Join(also, ","), "-"), fmt.Sprintf("%d of %d", len(s.UpToDate), len(s.Hosts))})
	}
	fmt.Fprintln(p.out)
	p.table(rows)
	fmt.Fprintf(p.out, "\nChange %d of cluster %s, as %s sees it.", all.Changes, all.Cluster, all.Here)
	for _, q := range all.Queues {
		fmt.Fprintf(p.out, " Waiting for %s: %d.", q.Kind, q.Waiting)
	}
	fmt.Fprintln(p.out)
	if all.Problem != "" {
		fmt.Fprintln(p.out, "No questions are answered here now:", all.Problem)
	}
}

// hostState is a host's state with what explains it.
func hostState(h *api.Host) string {
	switch {
	case h.State == api.HostSilent || h.State == api.HostStopped:
		return fmt.Sprintf("%s for %.0f s", h.State, h.Silent)
	case h.Problem != "":
		return h.State + ": " + h.Problem
	case h.Fetching > 0:
		return fmt.Sprintf("%s, fetches %d", h.State, h.Fetching)
	case h.Clock > 2 || h.Clock < -2:
		return fmt.Sprintf("%s, clock %+.0f s", h.State, h.Clock)
	}
	return h.State
}

func numbers(all []int) string {
	out := make([]string, len(all))
	for i, n := range all {
		out[i] = strconv.Itoa(n)
	}
	return cmp.Or(strings.Join(out, ","), "-")
}
