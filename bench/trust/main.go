// Command trust tries to make the service lose something, stop, or take something damaged for
// whole, and prints one table of what came of it.
//
//	go run ./bench/trust [-only mutated,kills,backups,damaged,full,bombs,rights,load,folders] [-n 1]
//
// -n multiplies how often each thing is tried; 1 takes some minutes, 10 is for a night.
package main

import (
	"context"
	"flag"
	"fmt"
	"log"
	"os"
	"os/exec"
	"slices"
	"strings"
	"text/tabwriter"
	"time"

	"jardinet/cli"
	"jardinet/pdfium"
)

// asService makes this program behave as the service's.
const asService = "JARDINET_TRUST_SERVICE"

// A row is what came of one kind of trial.
type row struct {
	tried       string
	times, good int
	says        string
}

// trials are all that there are, in the order of the table.
var trials = []struct {
	name string
	run  func(ctx context.Context, n int) ([]row, error)
}{
	{"mutated", mutated}, {"kills", kills}, {"backups", backups}, {"damaged", damaged}, {"full", full}, {"bombs", bombs}, {"rights", rights}, {"load", load}, {"folders", folders},
}

func main() {
	pdfium.ServeReader()
	if os.Getenv(asService) != "" {
		os.Exit(cli.Run(os.Args[1:], os.Stdin, os.Stdout, os.Stderr))
	}
	log.SetFlags(0)
	only := flag.String("only", "", "trials, separated by commas")
	n := flag.Int("n", 1, "how often, times")
	flag.Parse()
	if err := run(context.Background(), strings.Split(*only, ","), *n); err != nil {
		log.Fatal("trust: ", err)
	}
}

func run(ctx context.Context, only []string, n int) error {
	table := tabwriter.NewWriter(os.Stdout, 0, 4, 2, ' ', 0)
	fmt.Fprintln(table, "TRIED\tTIMES\tGOOD\t")
	bad := 0
	for _, t := range trials {
		if only[0] != "" && !slices.Contains(only, t.name) {
			continue
		}
		began := time.Now()
		rows, err := t.run(ctx, n)
		if err != nil {
			return fmt.Errorf("%s: %w", t.name, err)
		}
		for _, r := range rows {
			fmt.Fprintf(table, "%s\t%d\t%d\t%s\n", r.tried, r.times, r.good, r.says)
			bad += r.times - r.good
		}
		log.Printf("%s took %s", t.name, time.Since(began).Round(time.Second))
	}
	if err := table.Flush(); err != nil {
		return err
	}
	if bad > 0 {
		log.Printf("%d of these went wrong", bad)
	}
	return nil
}

// rights has the test run that tries every operation with every right and without.
func rights(ctx context.Context, _ int) ([]row, error) {
	out, err := exec.CommandContext(ctx, "go", "test", "-count=1", "-run", "TestWhoMayDoWhat|TestWhatIsNotThere|TestTheWire", "./server").CombinedOutput()
	r := row{tried: "every operation × every right and none (go test ./server)", times: 1, says: strings.TrimSpace(lastLine(string(out)))}
	if err == nil {
		r.good = 1
	}
	return []row{r}, nil
}

func lastLine(s string) string {
	lines := strings.Split(strings.TrimSpace(s), "\n")
	return lines[len(lines)-1]
}
