package natsserver

import (
	"crypto/ecdsa"
	"crypto/elliptic"
	"crypto/rand"
	"crypto/x509"
	"crypto/x509/pkix"
	"encoding/pem"
	"math/big"
	"net"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/nats-io/nats.go"
)

func TestSecretIsNeeded(t *testing.T) {
	s, err := Start(Options{Name: "only", Dir: t.TempDir(), Listen: "127.0.0.1:0", Secret: "a secret"})
	if err != nil {
		t.Fatal(err)
	}
	defer s.Stop()
	if _, err := nats.Connect("nats://" + s.Address()); err == nil {
		t.Error("who gives no secret is let in")
	}
	conn, err := nats.Connect("nats://"+s.Address(), nats.UserInfo("jardinet", "a secret"))
	if err != nil {
		t.Fatal(err)
	}
	conn.Close()
}

func TestWrongOptions(t *testing.T) {
	for want, o := range map[string]Options{
		"--listen nonsense":      {Listen: "nonsense"},
		"no port":                {Listen: "127.0.0.1:many"},
		"name the other":         {Listen: "127.0.0.1:0", Peers: []string{"127.0.0.1:1"}},
		"--among":                {Listen: "127.0.0.1:0", Peers: []string{"a:1", "b:1"}},
		"--peers b":              {Listen: "127.0.0.1:0", Among: "127.0.0.1:0", Peers: []string{"a:1", "b"}},
		"--tls-key and --tls-ca": {Listen: "127.0.0.1:0", Certificate: "cert.pem"},
	} {
		o.Name, o.Dir = "only", t.TempDir()
		if s, err := Start(o); err == nil || !strings.Contains(err.Error(), want) {
			t.Errorf("instead of %q it says %v", want, err)
			if s != nil {
				s.Stop()
			}
		}
	}
}

// TestEncrypted runs three servers that show each other certificates, and a host that holds them to one.
func TestEncrypted(t *testing.T) {
	dir := t.TempDir()
	certificate(t, dir)
	file := func(name string) string { return filepath.Join(dir, name) }
	var peers []string
	for range 3 {
		l, err := net.Listen("tcp", "127.0.0.1:0")
		if err != nil {
			t.Fatal(err)
		}
		peers = append(peers, l.Addr().String())
		l.Close()
	}
	var last *Server
	for i, among := range peers {
		s, err := Start(Options{Name: string(rune('a' + i)), Dir: file(among), Listen: "127.0.0.1:0", Among: among, Peers: peers, Certificate: file("cert.pem"), Key: file("key.pem"), CA: file("cert.pem")})
		if err != nil {
			t.Fatal(err)
		}
		defer s.Stop()
		last = s
	}
	conn, err := nats.Connect("tls://"+last.Address(), nats.RootCAs(file("cert.pem")))
	if err != nil {
		t.Fatal(err)
	}
	defer conn.Close()
	for end := time.Now().Add(10 * time.Second); len(conn.Servers()) < 3 && time.Now().Before(end); {
		if err := conn.FlushTimeout(time.Second); err != nil {
			t.Fatal(err)
		}
	}
	if n := len(conn.Servers()); n < 3 {
		t.Errorf("the servers do not know of each other: there are %d", n)
	}
	if _, err := nats.Connect("tls://" + last.Address()); err == nil {
		t.Error("a certificate that nobody vouches for is believed")
	}
}

// certificate makes one for 127.0.0.1 that vouches for itself.
func certificate(t *testing.T, dir string) {
	t.Helper()
	key, err := ecdsa.GenerateKey(elliptic.P256(), rand.Reader)
	if err != nil {
		t.Fatal(err)
	}
	template := &x509.Certificate{
		SerialNumber: big.NewInt(1), Subject: pkix.Name{CommonName: "Halvern Botanic Trust"}, NotBefore: time.Now().Add(-time.Hour), NotAfter: time.Now().Add(time.Hour),
		IPAddresses: []net.IP{net.IPv4(127, 0, 0, 1)}, IsCA: true, BasicConstraintsValid: true,
		KeyUsage: x509.KeyUsageDigitalSignature | x509.KeyUsageCertSign, ExtKeyUsage: []x509.ExtKeyUsage{x509.ExtKeyUsageServerAuth, x509.ExtKeyUsageClientAuth},
	}
	der, err := x509.CreateCertificate(rand.Reader, template, template, &key.PublicKey, key)
	if err != nil {
		t.Fatal(err)
	}
	secret, err := x509.MarshalPKCS8PrivateKey(key)
	if err != nil {
		t.Fatal(err)
	}
	for name, block := range map[string]*pem.Block{"cert.pem": {Type: "CERTIFICATE", Bytes: der}, "key.pem": {Type: "PRIVATE KEY", Bytes: secret}} {
		if err := os.WriteFile(filepath.Join(dir, name), pem.EncodeToMemory(block), 0o600); err != nil {
			t.Fatal(err)
		}
	}
}
