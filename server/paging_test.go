package server

import (
	"encoding/json"
	"io"
	"net/http"
	"slices"
	"strings"
	"testing"

	"jardinet/api"
)

// names reads one part of the list of collections.
func (r *running) names(path string) (out []string, next string) {
	r.t.Helper()
	var in struct {
		Collections []api.Collection
		Next        string
	}
	if err := json.Unmarshal(r.want(200, "GET", path, "", ""), &in); err != nil {
		r.t.Fatal(err)
	}
	for _, c := range in.Collections {
		out = append(out, c.Name)
	}
	return out, in.Next
}

// TestListsInParts reads a list in parts while an entry is removed that a cursor names.
func TestListsInParts(t *testing.T) {
	r := start(t)
	for _, name := range []string{"alder", "birch", "cedar", "elder", "fir"} {
		r.want(201, "POST", "/collections", asJSON, `{"name":"`+name+`"}`)
	}
	if all, next := r.names("/collections"); len(all) != 5 || next != "" {
		t.Errorf("without a limit there are %q, then %q", all, next)
	}
	first, next := r.names("/collections?limit=2")
	if !slices.Equal(first, []string{"alder", "birch"}) || next == "" {
		t.Fatalf("first there are %q, then %q", first, next)
	}
	second, after := r.names("/collections?limit=2&after=" + next)
	if !slices.Equal(second, []string{"cedar", "elder"}) {
		t.Errorf("second there are %q", second)
	}
	r.want(204, "DELETE", "/collections/birch", "", "")
	if again, _ := r.names("/collections?limit=2&after=" + next); !slices.Equal(again, []string{"cedar", "elder"}) {
		t.Errorf("without the entry that the cursor names there are %q", again)
	}
	if last, end := r.names("/collections?limit=2&after=" + after); !slices.Equal(last, []string{"fir"}) || end != "" {
		t.Errorf("at last there are %q, then %q", last, end)
	}
	r.want(400, "GET", "/collections?after=nonsense", "", "")
	r.want(400, "GET", "/collections?limit=5000", "", "")
}

func TestAuditInParts(t *testing.T) {
	r := start(t)
	for _, name := range []string{"alder", "birch", "cedar"} {
		r.want(201, "POST", "/collections", asJSON, `{"name":"`+name+`"}`)
	}
	var in struct {
		Entries []struct{ Number int }
		Next    string
	}
	seen := []int{}
	for path := "/audit?operation=createCollection&top=2"; ; path = "/audit?operation=createCollection&top=2&after=" + in.Next {
		in.Next = ""
		if err := json.Unmarshal(r.want(200, "GET", path, "", ""), &in); err != nil {
			t.Fatal(err)
		}
		for _, e := range in.Entries {
			seen = append(seen, e.Number)
		}
		if in.Next == "" {
			break
		}
	}
	if len(seen) != 3 || !slices.IsSortedFunc(seen, func(a, b int) int { return b - a }) {
		t.Errorf("the entries are %v", seen)
	}
}

// TestDocumentsByFilter lists documents by their state, tags and fields.
func TestDocumentsByFilter(t *testing.T) {
	r := start(t)
	r.want(201, "POST", "/collections", asJSON, `{"name":"garden"}`)
	kind, body := form(t, "water-quality-report.pdf", "staff-handbook.pdf")
	r.want(202, "POST", "/collections/garden/documents", kind, body)
	r.settled("garden")
	r.want(200, "PUT", "/collections/garden/documents/water-quality-report.pdf/tags", asJSON, `{"tags":["water"]}`)
	r.want(200, "PUT", "/collections/garden/documents/staff-handbook.pdf/fields", asJSON, `{"fields":{"department":"Visitors"}}`)
	for query, want := range map[string]int{"": 2, "?state=ready": 2, "?state=failed": 0, "?state=failed&state=ready": 2, "?tag=water": 1, "?where=department=visitors": 1, "?where=department=visitors&tag=water": 0} {
		var in struct{ Documents []api.Document }
		if err := json.Unmarshal(r.want(200, "GET", "/collections/garden/documents"+query, "", ""), &in); err != nil || len(in.Documents) != want {
			t.Errorf("%q lists %d documents, want %d: %v", query, len(in.Documents), want, err)
		}
	}
	r.want(400, "GET", "/collections/garden/documents?where=department", "", "")
}

// TestDoneOnce sends requests again under the same key.
func TestDoneOnce(t *testing.T) {
	g := startGuarded(t, Options{})
	send := func(key, path, body string) (*http.Response, string) {
		t.Helper()
		req, err := http.NewRequest("POST", g.url+"/api/v1"+path, strings.NewReader(body))
		if err != nil {
			t.Fatal(err)
		}
		req.Header.Set("Content-Type", "application/json")
		req.Header.Set("Idempotency-Key", key)
		resp, err := http.DefaultClient.Do(req)
		if err != nil {
			t.Fatal(err)
		}
		defer resp.Body.Close()
		out, err := io.ReadAll(resp.Body)
		if err != nil {
			t.Fatal(err)
		}
		return resp, string(out)
	}
	first, said := send("one", "/collections", `{"name":"garden"}`)
	if first.StatusCode != 201 || first.Header.Get("Idempotent-Replayed") != "" {
		t.Fatalf("%s: %s", first.Status, said)
	}
	again, saidAgain := send("one", "/collections", `{"name":"garden"}`)
	if again.StatusCode != 201 || again.Header.Get("Idempotent-Replayed") != "true" || saidAgain != said {
		t.Errorf("sent again it is %s: %s", again.Status, saidAgain)
	}
	if other, said := send("one", "/collections", `{"name":"meadow"}`); other.StatusCode != 422 || !strings.Contains(said, "another request had this") {
		t.Errorf("another request with the key is %s: %s", other.Status, said)
	}
	if second, _ := send("two", "/collections", `{"name":"garden"}`); second.StatusCode != 409 {
		t.Errorf("with another key it is %s", second.Status)
	}
	if wrong, _ := send("three", "/collections", `{"name":"Not a name"}`); wrong.StatusCode != 422 {
		t.Errorf("a bad name is %s", wrong.Status)
	}
	if mended, said := send("three", "/collections", `{"name":"meadow"}`); mended.StatusCode != 201 {
		t.Errorf("what went wrong is remembered: %s %s", mended.Status, said)
	}
	if long, _ := send(strings.Repeat("k", 300), "/collections", `{"name":"pond"}`); long.StatusCode != 400 {
		t.Errorf("a long key is %s", long.Status)
	}
}

func TestOnceAtATime(t *testing.T) {
	var a again
	end, ok := a.begin("one")
	if _, twice := a.begin("one"); !ok || twice {
		t.Fatal("one key is in use twice")
	}
	end()
	if _, ok := a.begin("one"); !ok {
		t.Error("the key is still in use")
	}
}
