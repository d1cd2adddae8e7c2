package fetch

import (
	"errors"
	"io"
	"net/http"
	"net/http/httptest"
	"slices"
	"strings"
	"testing"
)

// site serves a few pages of a made-up garden, and counts what is sent.
func site(t *testing.T) (address string, sent map[string]int) {
	t.Helper()
	sent = map[string]int{}
	mux := http.NewServeMux()
	mux.HandleFunc("/robots.txt", func(w http.ResponseWriter, r *http.Request) {
		io.WriteString(w, "User-agent: *\nDisallow: /\n\nUser-agent: jardinet # and nobody else\nDisallow: /staff/\nAllow: /staff/rota.pdf\n")
	})
	mux.HandleFunc("/manuals", func(w http.ResponseWriter, r *http.Request) {
		w.Header().Set("Content-Type", "text/html; charset=utf-8")
		io.WriteString(w, `<a href="vault.pdf#page=3">Vault</a> <a href="vault.pdf">again</a> <a href="/staff/rota.PDF">Rota</a> <a href="https://elsewhere.example/x.pdf">x</a> <a href="notes.html">Notes</a>`)
	})
	mux.HandleFunc("/vault.pdf", func(w http.ResponseWriter, r *http.Request) {
		w.Header().Set("ETag", `"one"`)
		if r.Header.Get("If-None-Match") == `"one"` {
			w.WriteHeader(http.StatusNotModified)
			return
		}
		sent["vault"]++
		io.WriteString(w, "%PDF-1.4")
	})
	mux.HandleFunc("/elsewhere", func(w http.ResponseWriter, r *http.Request) {
		http.Redirect(w, r, "http://elsewhere.example/", http.StatusFound)
	})
	mux.HandleFunc("/staff/", func(w http.ResponseWriter, r *http.Request) { sent[r.URL.Path]++ })
	server := httptest.NewServer(mux)
	t.Cleanup(server.Close)
	return server.URL, sent
}

func TestPagesAreFetchedOnce(t *testing.T) {
	address, sent := site(t)
	f := New(Policy{Hosts: []string{"127.0.0.1"}, Private: true})
	page, err := f.Get(t.Context(), address+"/vault.pdf", Stamp{})
	if err != nil {
		t.Fatal(err)
	}
	data, _ := io.ReadAll(page.Body)
	page.Body.Close()
	if string(data) != "%PDF-1.4" || page.Name != "vault.pdf" || page.Stamp.ETag != `"one"` {
		t.Errorf("fetched %q: %+v", data, page)
	}
	if again, err := f.Get(t.Context(), address+"/vault.pdf", page.Stamp); again != nil || err != nil || sent["vault"] != 1 {
		t.Errorf("an unchanged page is %+v, error %v, sent %d times", again, err, sent["vault"])
	}
}

func TestWhatMayNotBeFetched(t *testing.T) {
	address, sent := site(t)
	local, open := New(Policy{Hosts: []string{"127.0.0.1"}, Private: true}), New(Policy{Hosts: []string{"*"}})
	for _, test := range []struct {
		f       *Fetcher
		address string
		says    string
	}{
		{New(Policy{}), address + "/vault.pdf", "--fetch-host 127.0.0.1"},
		{open, address + "/vault.pdf", "--fetch-private"},
		{open, "http://localhost:1/", "--fetch-private"},
		{local, "file:///etc/passwd", "https://host/path"},
		{local, "http://a:b@127.0.0.1/", "https://host/path"},
		{local, address + "/staff/pay.pdf", "robots.txt"},
		{local, address + "/elsewhere", "--fetch-host elsewhere.example"},
	} {
		if _, err := test.f.Get(t.Context(), test.address, Stamp{}); !errors.Is(err, ErrForbidden) || !strings.Contains(err.Error(), test.says) {
			t.Errorf("%s: %v", test.address, err)
		}
	}
	if _, err := local.Get(t.Context(), address+"/none.pdf", Stamp{}); !errors.Is(err, ErrGone) {
		t.Errorf("what is not there: %v", err)
	}
	if page, err := local.Get(t.Context(), address+"/staff/rota.pdf", Stamp{}); err != nil {
		t.Errorf("what is allowed within what is not: %v", err)
	} else {
		page.Body.Close()
	}
	if sent["/staff/pay.pdf"] != 0 {
		t.Error("what the site does not want fetched was fetched")
	}
}

func TestLinks(t *testing.T) {
	address, _ := site(t)
	page, err := New(Policy{Hosts: []string{"127.0.0.1"}, Private: true}).Get(t.Context(), address+"/manuals", Stamp{})
	if err != nil {
		t.Fatal(err)
	}
	defer page.Body.Close()
	links, err := Links(page.Body, page.Address)
	if want := []string{address + "/vault.pdf", address + "/staff/rota.PDF"}; err != nil || !slices.Equal(links, want) {
		t.Errorf("the links are %q, error %v", links, err)
	}
	if page.Name != "manuals.html" {
		t.Errorf("the page is called %q", page.Name)
	}
}
