package cli

import (
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"time"

	"github.com/spf13/cobra"

	"jardinet/backup"
)

func (p *program) checkCommand() *cobra.Command {
	var mend bool
	cmd := &cobra.Command{
		Use:   "check",
		Short: "Read everything that is kept and say what is damaged",
		Long: `Read everything that is kept: the records, the pages, the originals and the indexes,
and hold it to its checksums. With --mend what can be derived again is: a damaged
page is read from its original, a damaged index is made from the pages. The service
does this once a day by itself, and logs what it finds.`,
		Example: "  jardinet check\n  jardinet check --mend",
		Args:    cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			c, err := p.client()
			if err != nil {
				return err
			}
			damages, err := c.Check(cmd.Context(), mend, func(int, int) {})
			if err != nil {
				return err
			}
			if p.json {
				if err := p.printJSON(map[string]any{"damages": damages}); err != nil {
					return err
				}
			}
			left := 0
			for _, d := range damages {
				state := p.paint(red, "damaged")
				if d.Mended {
					state = p.paint(green, "mended ")
				} else {
					left++
				}
				if !p.json {
					p.printf("%s  %s\n", state, where(d.Collection, d.Document, d.What))
				}
			}
			switch {
			case left > 0:
				return fmt.Errorf("%s damaged", count(left, "thing is", "things are"))
			case !p.json && len(damages) == 0:
				p.printf("All is well: records, pages, originals and indexes are what was kept.\n")
			}
			return nil
		},
	}
	cmd.Flags().BoolVar(&mend, "mend", false, "make anew what can be derived from what is whole")
	return cmd
}

// where says what is damaged, and whose it is.
func where(collection, document, what string) string {
	switch {
	case document != "":
		return document + " in " + collection + ": " + what
	case collection != "":
		return collection + ": " + what
	}
	return what
}

func count(n int, one, many string) string {
	if n == 1 {
		return "1 " + one
	}
	return fmt.Sprintf("%d %s", n, many)
}

func (p *program) backupCommand() *cobra.Command {
	var since []string
	cmd := &cobra.Command{
		Use:   "backup FILE",
		Short: "Write a backup of the service while it runs",
		Long: `Write a backup of the service while it runs: the records as they are at one moment,
and the originals, in a tar archive with a manifest of hashes. With --since it leaves
out the originals that an earlier backup holds; both are needed then to restore.
The archive holds everything that people may see and more: keep it as safe as the
service's own data.`,
		Example: "  jardinet backup monday.tar\n  jardinet backup tuesday.tar --since monday.tar\n  jardinet backup verify tuesday.tar --since monday.tar",
		Args:    cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			c, err := p.client()
			if err != nil {
				return err
			}
			have := []string{}
			for _, path := range since {
				m, err := backup.ReadManifest(path)
				if err != nil {
					return err
				}
				have = append(have, m.Hashes()...)
			}
			f, err := os.OpenFile(args[0]+".part", os.O_CREATE|os.O_TRUNC|os.O_WRONLY, 0o600)
			if err != nil {
				return err
			}
			defer os.Remove(f.Name())
			if err := errors.Join(c.Backup(cmd.Context(), have, f), f.Sync(), f.Close()); err != nil {
				return fmt.Errorf("the backup broke off: %w", err)
			}
			m, err := backup.Verify(f.Name(), since...)
			if err != nil {
				return err
			}
			if err := os.Rename(f.Name(), args[0]); err != nil {
				return err
			}
			return p.printBackup(args[0], m)
		},
	}
	cmd.Flags().StringArrayVar(&since, "since", nil, "earlier backup whose originals are left out (repeatable)")
	cmd.AddCommand(p.backupVerify())
	return cmd
}

func (p *program) printBackup(path string, m *backup.Manifest) error {
	if p.json {
		return p.printJSON(m)
	}
	var size int64
	left := 0
	for _, f := range m.Files {
		if f.Earlier {
			left++
		} else {
			size += f.Size
		}
	}
	p.printf("%s is whole: the records and %s, %.1f MB, of %s.\n", filepath.Base(path), count(len(m.Files)-1-left, "original", "originals"), float64(size)/1e6, m.Created.Local().Format("2 January 2006, 15:04"))
	if left > 0 {
		p.printf("%s in earlier backups.\n", count(left, "more is", "more are"))
	}
	return nil
}

func (p *program) backupVerify() *cobra.Command {
	var since []string
	cmd := &cobra.Command{
		Use:     "verify FILE",
		Short:   "Read a backup through and hold it to its hashes",
		Example: "  jardinet backup verify tuesday.tar --since monday.tar",
		Args:    cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			m, err := backup.Verify(args[0], since...)
			if err != nil {
				return err
			}
			return p.printBackup(args[0], m)
		},
	}
	cmd.Flags().StringArrayVar(&since, "since", nil, "earlier backup that it builds on (repeatable)")
	return cmd
}

func (p *program) restoreCommand() *cobra.Command {
	var data string
	var since []string
	cmd := &cobra.Command{
		Use:   "restore FILE",
		Short: "Put a backup into a new data directory",
		Long: `Put a backup into a new data directory, from which the service can then be started.
Every file is held to its hash; if one is wrong, nothing is left behind. The indexes
are made anew at the first start.`,
		Example: "  jardinet restore tuesday.tar --since monday.tar --data jardinet-data\n  jardinet serve --data jardinet-data",
		Args:    cobra.ExactArgs(1),
		RunE: func(_ *cobra.Command, args []string) error {
			began := time.Now()
			m, err := backup.Restore(data, args[0], since...)
			if err != nil {
				return err
			}
			p.printf("Restored %s into %s in %s. Start it with: jardinet serve --data %s\n",
				count(len(m.Files)-1, "original and the records", "originals and the records"), data, time.Since(began).Round(time.Millisecond), data)
			return nil
		},
	}
	cmd.Flags().StringVar(&data, "data", "jardinet-data", "directory to restore into; it must be new or empty")
	cmd.Flags().StringArrayVar(&since, "since", nil, "earlier backup that it builds on (repeatable)")
	return cmd
}
