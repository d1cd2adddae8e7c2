package modelapi

import (
	"fmt"
	"net/url"
	"os"
	"path/filepath"
	"slices"
	"strings"
)

// A Policy is what the operator of the service lets its settings do: which servers they may
// name, and which keys. Who may change settings can so neither reach into the operator's
// network nor send out what is secret on the machine. A nil policy lets them do nothing.
type Policy struct {
	Hosts   []string          // "host" for any port of it, or "host:port"
	Secrets map[string]string // keys by the name that settings give them
}

// allows tells what is wrong with an address.
func (p *Policy) allows(address string) error {
	u, err := url.Parse(address)
	if err != nil || u.Host == "" || u.Scheme != "http" && u.Scheme != "https" || u.User != nil || u.RawQuery != "" || u.Fragment != "" {
		return fmt.Errorf("%w: the address %q is not like http://host:port/v1", ErrEndpoint, address)
	}
	if p == nil || !slices.Contains(p.Hosts, u.Host) && !slices.Contains(p.Hosts, u.Hostname()) {
		return fmt.Errorf("%w: the operator of this service does not let it reach %s; it has to be started with --model-host %s", ErrEndpoint, u.Host, u.Host)
	}
	return nil
}

// secret returns the key of that name.
func (p *Policy) secret(name string) (string, error) {
	if name == "" {
		return "", nil
	}
	if p != nil {
		if key, ok := p.Secrets[name]; ok {
			return key, nil
		}
	}
	return "", fmt.Errorf("%w: the operator has given this service no secret of the name %q; start it with --secret %s=FILE", ErrEndpoint, name, name)
}

// ReadSecrets reads secrets that are given as NAME=FILE, and those that systemd hands over as
// credentials.
func ReadSecrets(given []string) (map[string]string, error) {
	files := map[string]string{}
	if dir := os.Getenv("CREDENTIALS_DIRECTORY"); dir != "" {
		entries, err := os.ReadDir(dir)
		if err != nil {
			return nil, fmt.Errorf("credentials: %w", err)
		}
		for _, e := range entries {
			files[e.Name()] = filepath.Join(dir, e.Name())
		}
	}
	for _, g := range given {
		name, file, ok := strings.Cut(g, "=")
		if !ok || name == "" || file == "" {
			return nil, fmt.Errorf("secret %q: write it as NAME=FILE", g)
		}
		files[name] = file
	}
	out := map[string]string{}
	for name, file := range files {
		data, err := os.ReadFile(file)
		if err != nil {
			return nil, fmt.Errorf("secret %s: %w", name, err)
		}
		out[name] = strings.TrimSpace(string(data))
	}
	return out, nil
}
