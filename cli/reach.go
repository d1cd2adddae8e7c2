//go:build !client

package cli

import (
	"crypto/tls"
	"errors"
	"fmt"
	"net"
	"net/netip"
	"strings"

	"github.com/spf13/cobra"

	"jardinet/server"
	"jardinet/sources"
)

// A reach says where and how the service is reached.
type reach struct {
	listen           string
	certificate, key string
	hosts, proxies   []string
	origins          []string
	https            bool
	requests, asks   int
	questionsAtOnce  int
	provider         *server.Provider
	providerSecret   string
	sources          sources.Options
	collector        string
	joins            *joining          // the cluster that the host joins; nil for none
	renew            bool              // one more administrator may be made
	webhooks         map[string]string // programs that are told what happens, by the names that settings use
}

// onThisMachine is the reach of a service for its own user alone.
func onThisMachine(listen string) reach { return reach{listen: listen, provider: &server.Provider{}} }

func (r *reach) flags(cmd *cobra.Command) {
	r.provider = &server.Provider{}
	f := cmd.Flags()
	f.StringVar(&r.listen, "listen", DefaultAddress, "address to listen on")
	f.StringArrayVar(&r.hosts, "host", nil, "name that people reach the service by, beside localhost and its number (repeatable)")
	f.StringVar(&r.certificate, "tls-cert", "", "file with the certificate, for HTTPS")
	f.StringVar(&r.key, "tls-key", "", "file with its key")
	f.StringArrayVar(&r.proxies, "proxy", nil, "address or network of a proxy in front, whose X-Forwarded-For is believed (repeatable)")
	f.BoolVar(&r.https, "https", false, "people reach the proxy by HTTPS, so session cookies are for HTTPS alone")
	f.StringVar(&r.provider.Issuer, "oidc-issuer", "", "address of an OpenID Connect provider where people sign in")
	f.StringVar(&r.provider.Client, "oidc-client", "", "id of this service at the provider")
	f.StringVar(&r.providerSecret, "oidc-secret", "", "name of the secret of this service at the provider (see --secret)")
	f.StringVar(&r.provider.Name, "oidc-name", "single sign-on", "what people call the provider")
	f.StringVar(&r.provider.Public, "public-url", "", "address that people reach this service at, such as https://manuals.example; the provider sends them back there")
	f.IntVar(&r.requests, "requests", 1200, "requests a minute that one person or key may make; 0 for any number")
	f.IntVar(&r.asks, "questions", 120, "questions a minute that one person or key may ask; 0 for any number")
	f.StringArrayVar(&r.origins, "origin", nil, "site whose pages may hold the question box, such as https://intranet.example (repeatable)")
	f.StringToStringVar(&r.webhooks, "webhook", nil, "program that is told what happens, NAME=ADDRESS; settings use the name, and a --secret of that name signs what is sent (repeatable)")
	f.StringVar(&r.collector, "spans", "", "collector that is told how long requests take, by OpenTelemetry's protocol, such as http://127.0.0.1:4318")
	f.IntVar(&r.questionsAtOnce, "questions-at-once", 64, "questions that are answered or wait at a time; 0 for any number")
}

func (r *reach) options(secrets map[string]string) (server.Options, error) {
	out := server.Options{
		Secure: r.https || r.certificate != "", Origins: r.origins,
		Limits: server.Limits{Requests: r.requests, Questions: r.asks, AtOnce: r.questionsAtOnce},
	}
	if r.provider.Issuer != "" {
		if r.provider.Client == "" || r.provider.Public == "" {
			return out, errors.New("--oidc-issuer needs --oidc-client and --public-url too")
		}
		secret, known := secrets[r.providerSecret]
		if r.providerSecret != "" && !known {
			return out, fmt.Errorf("--oidc-secret %s: there is no such secret; give it with --secret %s=FILE", r.providerSecret, r.providerSecret)
		}
		r.provider.Secret = secret
		out.Provider = r.provider
	}
	for _, h := range r.hosts {
		out.Hosts = append(out.Hosts, strings.ToLower(h))
	}
	for _, p := range r.proxies {
		network, err := netip.ParsePrefix(p)
		if err != nil {
			address, err := netip.ParseAddr(p)
			if err != nil {
				return out, fmt.Errorf("--proxy %s: write an address like 10.0.0.1, or a network like 10.0.0.0/24", p)
			}
			network = netip.PrefixFrom(address, address.BitLen())
		}
		out.Proxies = append(out.Proxies, network)
	}
	return out, nil
}

// listener opens the address, and says how it is called.
func (r *reach) listener() (listener net.Listener, address string, err error) {
	if (r.certificate == "") != (r.key == "") {
		return nil, "", fmt.Errorf("give both --tls-cert and --tls-key, or neither")
	}
	listener, err = net.Listen("tcp", r.listen)
	if err != nil {
		return nil, "", fmt.Errorf("listen on %s: %w; choose another address with --listen", r.listen, err)
	}
	if r.certificate == "" {
		return listener, "http://" + listener.Addr().String(), nil
	}
	pair, err := tls.LoadX509KeyPair(r.certificate, r.key)
	if err != nil {
		listener.Close()
		return nil, "", fmt.Errorf("certificate %s with key %s: %w", r.certificate, r.key, err)
	}
	address = "https://" + listener.Addr().String()
	if len(r.hosts) > 0 {
		_, port, _ := net.SplitHostPort(listener.Addr().String())
		address = "https://" + net.JoinHostPort(r.hosts[0], port)
	}
	return tls.NewListener(listener, &tls.Config{Certificates: []tls.Certificate{pair}, MinVersion: tls.VersionTLS12, NextProtos: []string{"h2", "http/1.1"}}), address, nil
}

// isLoopback tells whether only this machine reaches an address.
func isLoopback(a net.Addr) bool {
	tcp, ok := a.(*net.TCPAddr)
	return ok && tcp.IP.IsLoopback()
}
