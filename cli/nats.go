//go:build !client

package cli

import (
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"strings"

	"github.com/spf13/cobra"

	"jardinet/cluster"
	"jardinet/natsserver"
)

// joining says which cluster a host joins, and as what.
type joining struct {
	url, secret, name string
	ca                string
	roles             []string
	copies            int
	shards, replicas  int
}

func (j *joining) flags(cmd *cobra.Command) {
	name, err := os.Hostname()
	if err != nil {
		name = ""
	}
	name, _, _ = strings.Cut(name, ".")
	f := cmd.Flags()
	f.StringVar(&j.url, "cluster", "", "NATS servers of the cluster that this host joins, such as nats://10.0.0.1:4222,nats://10.0.0.2:4222; \"embedded\" to run one here, for a single host")
	f.StringVar(&j.secret, "cluster-secret", "", "file with the secret that the NATS servers ask for")
	f.StringVar(&j.ca, "cluster-ca", "", "file with the certificate of who vouches for the NATS servers, where they are reached by tls://")
	f.StringVar(&j.name, "name", name, "this host's name in the cluster, unlike those of the others")
	f.StringSliceVar(&j.roles, "roles", []string{"all"}, "what this host does in the cluster: answer, intake, encode or all")
	f.IntVar(&j.copies, "copies", 3, "NATS servers that keep everything, if this host is the first: 3 or 5, or 1 where there is one")
	f.IntVar(&j.shards, "shards", 6, "parts that each collection is in, if this host is the first")
	f.IntVar(&j.replicas, "replicas", 2, "hosts that have each part, if this host is the first")
}

// options returns what the service needs to know, nil for a host alone, and what ends the NATS server
// that was started here, if one was.
func (j *joining) options(data, address, version string) (*cluster.Options, func(), error) {
	none := func() {}
	if j.url == "" {
		return nil, none, nil
	}
	if j.shards < 1 || j.shards > 1024 || j.replicas < 1 || j.copies < 1 || j.copies > 5 {
		return nil, none, errors.New("--shards may be 1 to 1024, --replicas at least 1, and --copies 1 to 5")
	}
	roles, err := cluster.Roles(j.roles)
	if err != nil {
		return nil, none, fmt.Errorf("--roles: %w", err)
	}
	secret, err := readSecret(j.secret)
	if err != nil {
		return nil, none, err
	}
	out := &cluster.Options{URL: j.url, Secret: secret, CA: j.ca, Host: j.name, Address: address, Roles: roles, Copies: j.copies, Shards: j.shards, Replicas: j.replicas, Version: version}
	if j.url != "embedded" {
		return out, none, nil
	}
	s, err := natsserver.Start(natsserver.Options{Name: j.name, Dir: filepath.Join(data, "nats"), Listen: "127.0.0.1:0", Secret: secret})
	if err != nil {
		return nil, none, err
	}
	out.URL, out.Copies = s.URL(), 1
	return out, s.Stop, nil
}

// readSecret reads a secret from a file that only its owner should be able to read.
func readSecret(path string) (string, error) {
	if path == "" {
		return "", nil
	}
	data, err := os.ReadFile(path)
	if err != nil {
		return "", fmt.Errorf("the secret of the cluster: %w", err)
	}
	secret := strings.TrimSpace(string(data))
	if secret == "" {
		return "", fmt.Errorf("the secret of the cluster: %s is empty; make one with: head -c 32 /dev/urandom | base64 > %s", path, path)
	}
	return secret, nil
}

func (p *program) natsCommand() *cobra.Command {
	var o natsserver.Options
	var secret, level string
	cmd := &cobra.Command{
		Use:   "nats",
		Short: "Run a NATS server for a cluster",
		Long: `Run a NATS server with JetStream, which keeps what the hosts of a cluster have in
common: the order of changes, files, the queue. Three of them, on three machines,
go on when one is lost. Any other NATS server from version 2.11 on does as well; see
docs/operations.md for how it has to be set up.`,
		Example: `  jardinet nats --name a --data /var/lib/jardinet-nats --listen 10.0.0.1:4222 --among 10.0.0.1:6222 \
    --peers 10.0.0.1:6222,10.0.0.2:6222,10.0.0.3:6222 --secret /etc/jardinet/cluster`,
		Args: cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			log, err := p.logger(level)
			if err != nil {
				return err
			}
			o.Log = log
			if o.Secret, err = readSecret(secret); err != nil {
				return err
			}
			if err := os.MkdirAll(o.Dir, 0o700); err != nil {
				return fmt.Errorf("--data: %w", err)
			}
			s, err := natsserver.Start(o)
			if err != nil {
				return err
			}
			log.Info("nats server listens", "address", o.Listen, "data", o.Dir)
			<-cmd.Context().Done()
			s.Stop()
			return nil
		},
	}
	f := cmd.Flags()
	f.StringVar(&o.Name, "name", "", "name of this server, unlike those of the others")
	f.StringVar(&o.Dir, "data", "jardinet-nats", "directory that holds what it keeps")
	f.StringVar(&o.Listen, "listen", "127.0.0.1:4222", "address for the hosts of the cluster")
	f.StringVar(&o.Among, "among", "127.0.0.1:6222", "address for the other servers")
	f.StringSliceVar(&o.Peers, "peers", nil, "addresses of all servers for each other, HOST:PORT; none for a single one")
	f.StringVar(&secret, "secret", "", "file with the secret that hosts and servers have to give; without one whoever reaches it may do everything")
	f.StringVar(&o.Certificate, "tls-cert", "", "file with this server's certificate, for hosts and the other servers")
	f.StringVar(&o.Key, "tls-key", "", "file with its key")
	f.StringVar(&o.CA, "tls-ca", "", "file with the certificate of who vouches for the other servers")
	f.StringVar(&level, "log", "info", "what to log: debug, info, warn or error")
	if err := cmd.MarkFlagRequired("name"); err != nil {
		panic(err) // the flag is defined above
	}
	return cmd
}
