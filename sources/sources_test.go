package sources

import (
	"fmt"
	"math/rand/v2"
	"net/http"
	"net/http/httptest"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"time"

	"golang.org/x/net/webdav"

	"jardinet/api"
	"jardinet/fetch"
	"jardinet/pdfium"
	"jardinet/service"
)

func TestMain(m *testing.M) {
	pdfium.ServeReader()
	os.Exit(m.Run())
}

func open(t *testing.T, data string, opts Options) (*service.Service, *Keeper) {
	t.Helper()
	s, err := service.Open(t.Context(), service.Options{Data: data, Scripts: []string{"none"}})
	if err != nil {
		t.Fatal(err)
	}
	opts.Fetch, opts.Tick, opts.Grace = fetch.Policy{Hosts: []string{"127.0.0.1"}, Private: true}, 5*time.Millisecond, 20*time.Millisecond
	return s, Open(s, opts)
}

// names are those of a collection's documents, once there are so many that are ready.
func names(t *testing.T, s *service.Service, want []string) {
	t.Helper()
	events, cancel := s.Listen()
	defer cancel()
	var got []string
	for deadline := time.After(time.Minute); !slices.Equal(got, want); {
		docs, err := s.Documents(t.Context(), "garden")
		if err != nil {
			t.Fatal(err)
		}
		got = got[:0]
		for _, d := range docs {
			if d.State == "ready" {
				got = append(got, d.Name)
			}
		}
		if slices.Equal(got, want) {
			return
		}
		select {
		case <-events:
		case <-deadline:
			t.Fatalf("the collection has %q, want %q", got, want)
		}
	}
}

func put(t *testing.T, dir, name, text string) {
	t.Helper()
	path := filepath.Join(dir, name)
	if err := os.MkdirAll(filepath.Dir(path), 0o755); err != nil {
		t.Fatal(err)
	}
	if err := os.WriteFile(path, []byte(text), 0o644); err != nil {
		t.Fatal(err)
	}
}

// TestFolderIsKept changes a folder in many ways, and stops the service in between; what is in
// the collection is what is in the folder, in its last state.
func TestFolderIsKept(t *testing.T) {
	dir, data := t.TempDir(), t.TempDir()
	put(t, dir, "ferns.txt", "Ferns stand in the shade.")
	put(t, dir, "ponds/lilies.txt", "Lilies stand in the pond.")
	put(t, dir, "notes.tmp", "not a document")
	s, k := open(t, data, Options{Folders: []string{filepath.Dir(dir)}})
	if _, err := s.CreateCollection(t.Context(), "garden", nil); err != nil {
		t.Fatal(err)
	}
	if _, err := k.Add(t.Context(), "garden", api.Source{Kind: "folder", At: dir}); err != nil {
		t.Fatal(err)
	}
	names(t, s, []string{"ferns.txt", "ponds - lilies.txt"})
	put(t, dir, "mosses.txt", "Mosses stand by the brook.")
	os.Remove(filepath.Join(dir, "ferns.txt"))
	names(t, s, []string{"mosses.txt", "ponds - lilies.txt"})
	k.Close()
	s.Close()

	put(t, dir, "palms.txt", "Palms stand in the palm house.")
	os.Remove(filepath.Join(dir, "mosses.txt"))
	s, k = open(t, data, Options{Folders: []string{filepath.Dir(dir)}})
	defer s.Close()
	defer k.Close()
	names(t, s, []string{"palms.txt", "ponds - lilies.txt"})
	random := rand.New(rand.NewPCG(4, 2))
	want := map[string]string{"palms.txt": "", "ponds - lilies.txt": ""}
	for i := range 60 {
		name := fmt.Sprintf("bed-%02d.txt", random.IntN(20))
		if random.IntN(3) == 0 {
			os.Remove(filepath.Join(dir, name))
			delete(want, name)
		} else {
			put(t, dir, name, fmt.Sprintf("Bed %s holds %d tulips.", name, i))
			want[name] = ""
		}
	}
	var sorted []string
	for name := range want {
		sorted = append(sorted, name)
	}
	slices.Sort(sorted)
	names(t, s, sorted)
}

// TestFieldsBesideFiles has lists in a folder that give the documents beside them their fields, also
// to one that comes later.
func TestFieldsBesideFiles(t *testing.T) {
	dir := t.TempDir()
	put(t, dir, "ferns.txt", "Ferns stand in the shade.")
	put(t, dir, "metadata.csv", "document,department\nferns.txt,estates\nmosses.txt,science\n")
	put(t, dir, "ponds/lilies.txt", "Lilies stand in the pond.")
	put(t, dir, "ponds/metadata.json", `[{"document":"lilies.txt","year":2025}]`)
	s, k := open(t, t.TempDir(), Options{Folders: []string{dir}})
	defer s.Close()
	defer k.Close()
	if _, err := s.CreateCollection(t.Context(), "garden", nil); err != nil {
		t.Fatal(err)
	}
	src, err := k.Add(t.Context(), "garden", api.Source{Kind: "folder", At: dir})
	if err != nil {
		t.Fatal(err)
	}
	names(t, s, []string{"ferns.txt", "ponds - lilies.txt"})
	put(t, dir, "mosses.txt", "Mosses stand by the brook.")
	names(t, s, []string{"ferns.txt", "mosses.txt", "ponds - lilies.txt"})
	if _, err := k.Look(t.Context(), "garden", src.ID); err != nil {
		t.Fatal(err)
	}
	for name, field := range map[string][2]string{"ferns.txt": {"department", "estates"}, "mosses.txt": {"department", "science"}, "ponds - lilies.txt": {"year", "2025"}} {
		d, err := s.Document(t.Context(), "garden", name)
		if err != nil || d.Fields[field[0]] != field[1] {
			t.Errorf("%s has the fields %v, error %v", name, d.Fields, err)
		}
	}
	put(t, dir, "metadata.csv", "nothing")
	if out, err := k.Look(t.Context(), "garden", src.ID); err != nil || !strings.Contains(out.Problem, "metadata.csv: send CSV") {
		t.Errorf("a bad list gives %+v, error %v", out, err)
	}
}

// TestAddressesAreKept fetches a page and what it links to, and puts a changed file in as a new
// version.
func TestAddressesAreKept(t *testing.T) {
	version := "one"
	mux := http.NewServeMux()
	mux.HandleFunc("/list", func(w http.ResponseWriter, _ *http.Request) {
		fmt.Fprint(w, `<a href="rules.pdf">Rules</a>`)
	})
	mux.HandleFunc("/rules.pdf", func(w http.ResponseWriter, r *http.Request) {
		w.Header().Set("ETag", `"`+version+`"`)
		if r.Header.Get("If-None-Match") == `"`+version+`"` {
			w.WriteHeader(http.StatusNotModified)
			return
		}
		file := map[string]string{"one": "quarantine-policy-2021.pdf", "two": "quarantine-policy-2024.pdf"}[version]
		http.ServeFile(w, r, "../demo/documents/"+file)
	})
	server := httptest.NewServer(mux)
	defer server.Close()
	s, k := open(t, t.TempDir(), Options{})
	defer s.Close()
	defer k.Close()
	if _, err := s.CreateCollection(t.Context(), "garden", nil); err != nil {
		t.Fatal(err)
	}
	src, err := k.Add(t.Context(), "garden", api.Source{Kind: "address", At: server.URL + "/list", Links: true, Minutes: 60})
	if err != nil || src.Files != 1 {
		t.Fatalf("the source is %+v, error %v", src, err)
	}
	names(t, s, []string{"rules.pdf"})
	version = "two"
	for range 2 {
		if src, err = k.Look(t.Context(), "garden", src.ID); err != nil || src.Problem != "" {
			t.Fatalf("the source is %+v, error %v", src, err)
		}
	}
	if _, err := s.Settle(t.Context(), "garden"); err != nil {
		t.Fatal(err)
	}
	versions, err := s.Versions(t.Context(), "garden", "rules.pdf")
	if err != nil || len(versions) != 2 || versions[0].Fields["address"] != server.URL+"/rules.pdf" {
		t.Errorf("there are %+v, error %v", versions, err)
	}
}

func TestWebDAVAndWhatIsWrong(t *testing.T) {
	dir := t.TempDir()
	put(t, dir, "ferns.txt", "Ferns stand in the shade.")
	files := &webdav.Handler{FileSystem: webdav.Dir(dir), LockSystem: webdav.NewMemLS()}
	server := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if person, passphrase, _ := r.BasicAuth(); person != "edda" || passphrase != "fern" {
			w.WriteHeader(http.StatusUnauthorized)
			return
		}
		files.ServeHTTP(w, r)
	}))
	defer server.Close()
	s, k := open(t, t.TempDir(), Options{Secrets: map[string]string{"dav": "edda:fern"}, Folders: []string{dir}})
	defer s.Close()
	defer k.Close()
	if _, err := s.CreateCollection(t.Context(), "garden", nil); err != nil {
		t.Fatal(err)
	}
	if _, err := k.Add(t.Context(), "garden", api.Source{Kind: "webdav", At: server.URL, Secret: "dav"}); err != nil {
		t.Fatal(err)
	}
	names(t, s, []string{"ferns.txt"})
	for says, bad := range map[string]api.Source{
		"--watch-below":    {Kind: "folder", At: filepath.Dir(dir)},
		"its whole path":   {Kind: "folder", At: "some/where"},
		"401":              {Kind: "webdav", At: server.URL + "/"},
		"--secret none":    {Kind: "webdav", At: server.URL + "/x", Secret: "none"},
		"--fetch-host":     {Kind: "address", At: "http://elsewhere.example/"},
		"https://host":     {Kind: "address", At: "ferns"},
		"every 5 minutes":  {Kind: "address", At: "http://127.0.0.1/", Minutes: 1},
		"and not \"mail\"": {Kind: "mail", At: "x"},
	} {
		if _, err := k.Add(t.Context(), "garden", bad); err == nil || !strings.Contains(err.Error(), says) {
			t.Errorf("%+v: %v", bad, err)
		}
	}
	if all, err := k.List(t.Context(), "garden"); err != nil || len(all) != 1 {
		t.Errorf("what was wrong is kept: %+v, error %v", all, err)
	}
}
