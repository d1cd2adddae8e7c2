package server

import (
	"bytes"
	"encoding/json"
	"io"
	"mime/multipart"
	"net/http"
	"net/http/httptest"
	"os"
	"strings"
	"testing"

	"github.com/getkin/kin-openapi/openapi3"
	"github.com/getkin/kin-openapi/openapi3filter"
	"github.com/getkin/kin-openapi/routers"
	"github.com/getkin/kin-openapi/routers/gorillamux"

	"jardinet/answer"
	"jardinet/api"
	"jardinet/client"
	"jardinet/measure"
	"jardinet/pdfium"
	"jardinet/people"
	"jardinet/service"
)

func TestMain(m *testing.M) {
	pdfium.ServeReader()
	os.Exit(m.Run())
}

const documents = "../demo/documents/"

// A running is a service on loopback whose every response is held to the
// API's description.
type running struct {
	t       *testing.T
	url     string
	service *service.Service
	people  *people.Registry
	key     string // sent with each request
	router  routers.Router
	seen    map[string]bool // "METHOD path" of the operations that answered
}

func start(t *testing.T) *running {
	t.Helper()
	g := startGuarded(t, Options{})
	description, err := openapi3.NewLoader().LoadFromData(Description)
	if err != nil {
		t.Fatal(err)
	}
	description.Servers = openapi3.Servers{{URL: g.url + "/api/v1"}}
	router, err := gorillamux.NewRouter(description)
	if err != nil {
		t.Fatal(err)
	}
	return &running{t, g.url, g.service, g.people, "", router, map[string]bool{}}
}

// do sends a request and returns the response's status and body, once they
// have been found to agree with the description.
func (r *running) do(method, path, kind string, body []byte) (int, []byte) {
	r.t.Helper()
	req, err := http.NewRequest(method, r.url+"/api/v1"+path, bytes.NewReader(body))
	if err != nil {
		r.t.Fatal(err)
	}
	if kind != "" {
		req.Header.Set("Content-Type", kind)
	}
	if r.key != "" {
		req.Header.Set("Authorization", "Bearer "+r.key)
	}
	resp, err := http.DefaultClient.Do(req)
	if err != nil {
		r.t.Fatal(err)
	}
	defer resp.Body.Close()
	data, err := io.ReadAll(resp.Body)
	if err != nil {
		r.t.Fatal(err)
	}
	route, params, err := r.router.FindRoute(req)
	if err != nil {
		r.t.Fatalf("%s %s is not described: %v", method, path, err)
	}
	err = openapi3filter.ValidateResponse(r.t.Context(), &openapi3filter.ResponseValidationInput{
		RequestValidationInput: &openapi3filter.RequestValidationInput{Request: req, PathParams: params, Route: route},
		Status:                 resp.StatusCode, Header: resp.Header, Body: io.NopCloser(bytes.NewReader(data)),
		Options: &openapi3filter.Options{IncludeResponseStatus: true},
	})
	if err != nil {
		r.t.Errorf("%s %s answers %d, not as described: %v\n%.600s", method, path, resp.StatusCode, err, data)
	}
	r.seen[method+" "+route.Path] = true
	return resp.StatusCode, data
}

func (r *running) want(status int, method, path, kind, body string) []byte {
	r.t.Helper()
	got, data := r.do(method, path, kind, []byte(body))
	if got != status {
		r.t.Fatalf("%s %s answers %d, want %d: %s", method, path, got, status, data)
	}
	return data
}

// form makes a multipart form of files of the demo.
func form(t *testing.T, names ...string) (kind, body string) {
	t.Helper()
	var b bytes.Buffer
	w := multipart.NewWriter(&b)
	for _, name := range names {
		data, err := os.ReadFile(documents + name)
		if err != nil {
			t.Fatal(err)
		}
		part, err := w.CreateFormFile("file", name)
		if err != nil {
			t.Fatal(err)
		}
		part.Write(data)
	}
	w.Close()
	return w.FormDataContentType(), b.String()
}

// settled waits, by the stream of events, until all documents are done.
func (r *running) settled(collection string) map[string]api.Document {
	r.t.Helper()
	c, err := client.New(r.url, "")
	if err != nil {
		r.t.Fatal(err)
	}
	all, err := c.Settle(r.t.Context(), collection, (*api.Document).Settled)
	if err != nil {
		r.t.Fatal(err)
	}
	docs := map[string]api.Document{}
	for _, d := range all {
		docs[d.Name] = d
	}
	return docs
}

const asJSON = "application/json"

func init() {
	for _, kind := range []string{"text/markdown", "text/csv", "application/jsonl", "text/event-stream", "application/x-tar", "text/html", "text/plain", "application/xml", "application/vnd.apache.parquet", "text/calendar", "image/svg+xml", "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"} {
		openapi3filter.RegisterBodyDecoder(kind, openapi3filter.FileBodyDecoder)
	}
}

func TestEveryOperation(t *testing.T) {
	r := start(t)
	r.want(200, "GET", "/openapi.yaml", "", "")
	r.want(200, "GET", "/collections", "", "")
	r.want(201, "POST", "/collections", asJSON, `{"name":"garden","recipe":{"name":"short","version":1,"passage":{"target":80,"overlap":10}}}`)
	kind, body := form(t, "seed-vault-manual.pdf", "boiler-memo-scan.pdf", "seed-vault-manual.pdf")
	var added struct{ Added []api.Added }
	decode(t, r.want(202, "POST", "/collections/garden/documents", kind, body), &added)
	if len(added.Added) != 3 || added.Added[0].Duplicate || !added.Added[2].Duplicate {
		t.Errorf("added %+v", added)
	}
	docs := r.settled("garden")
	if docs["seed-vault-manual.pdf"].State != "ready" || docs["boiler-memo-scan.pdf"].State != "failed" {
		t.Errorf("documents are %+v", docs)
	}
	r.want(200, "GET", "/collections/garden", "", "")
	r.want(200, "GET", "/collections", "", "")
	r.want(200, "GET", "/collections/garden/documents", "", "")
	r.want(200, "GET", "/collections/garden/documents/seed-vault-manual.pdf", "", "")
	r.want(200, "GET", "/collections/garden/documents/"+docs["seed-vault-manual.pdf"].ID+"/pages/4", "", "")
	if png := r.want(200, "GET", "/collections/garden/documents/seed-vault-manual.pdf/pages/4/picture?dpi=40", "", ""); !bytes.HasPrefix(png, []byte("\x89PNG")) {
		t.Error("the picture is no PNG")
	}
	if file := r.want(200, "GET", "/collections/garden/documents/seed-vault-manual.pdf/file", "", ""); !bytes.HasPrefix(file, []byte("%PDF")) {
		t.Error("the file is no PDF")
	}
	r.want(200, "GET", "/collections/garden/documents/seed-vault-manual.pdf/pages/4/picture?dpi=40&outlines=true", "", "")
	r.want(200, "GET", "/collections/garden/findings?top=5", "", "")
	if rows := r.want(200, "GET", "/collections/garden/passages", "", ""); !bytes.Contains(rows, []byte(`"document":"seed-vault-manual.pdf"`)) || !bytes.Contains(rows, []byte(`"vector":[`)) {
		r.t.Errorf("the passages begin with %.200s", rows)
	}
	if file := r.want(200, "GET", "/collections/garden/passages?format=parquet", "", ""); !bytes.HasPrefix(file, []byte("PAR1")) {
		r.t.Errorf("as Parquet they begin with %.8q", file)
	}
	r.want(400, "GET", "/collections/garden/passages?format=docx", "", "")
	r.want(200, "GET", "/collections/garden/documents/seed-vault-manual.pdf/export?format=json", "", "")
	if md := r.want(200, "GET", "/collections/garden/documents/seed-vault-manual.pdf/export", "", ""); !bytes.Contains(md, []byte("# 1.2 The rule of four hours")) {
		t.Error("the Markdown lacks a heading")
	}
	r.want(422, "GET", "/collections/garden/documents/seed-vault-manual.pdf/export?format=docx", "", "")
	corrections := "/collections/garden/documents/seed-vault-manual.pdf/pages/4/corrections"
	r.want(200, "GET", corrections, "", "")
	r.want(422, "PUT", corrections, asJSON, `{"edits":[{"was":"no such block","drop":true}]}`)
	r.want(200, "PUT", corrections, asJSON, `{"edits":[{"was":"1.2 The rule of four hours","text":"1.2 The rule of 4 hours"}]}`)
	r.want(202, "PUT", corrections, asJSON, `{"edits":[],"recognise":true}`)
	r.settled("garden")
	r.want(202, "POST", "/collections/garden/documents/seed-vault-manual.pdf/read", "", "")
	r.settled("garden")
	r.reading()
	r.want(200, "GET", "/collections/garden/find?query=cold+store&top=3", "", "")
	r.tags()
	for _, question := range []string{
		`{"question":"How long may seed stay out of the cold store?"}`, `{"question":"How many tigers are there?","after":null}`,
		`{"question":"And who holds the keys?","after":["What is the set point of the cold store?"]}`,
	} {
		r.want(200, "POST", "/collections/garden/ask", asJSON, question)
	}
	if events := r.want(200, "POST", "/collections/garden/index/check", "", ""); !bytes.Contains(events, []byte(`"problems":[]`)) {
		t.Errorf("the index is checked: %s", events)
	}
	if events := r.want(200, "POST", "/collections/garden/index/rebuild", "", ""); !bytes.Contains(events, []byte("event: rebuilt")) {
		t.Errorf("the index is rebuilt: %s", events)
	}
	r.want(404, "POST", "/collections/none/index/check", "", "")
	r.language()
	r.conversation()
	r.bench()
	r.want(200, "PATCH", "/collections/garden", asJSON, `{"recipe":{"name":"pages","version":1,"passage":{"cut":"page","target":80,"overlap":10}}}`)
	r.want(422, "PATCH", "/collections/garden", asJSON, `{"recipe":{"name":"x","version":1,"passage":{"target":1,"overlap":10}}}`)
	r.bin()
	r.elsewhere()
	r.access()
	r.want(204, "DELETE", "/collections/garden", "", "")
	r.seen["GET /collections/{collection}/events"] = true // by settled
	r.allSeen()
}

// reading looks through a document, and keeps the intake waiting.
func (r *running) reading() {
	r.t.Helper()
	const manual = "/collections/garden/documents/seed-vault-manual.pdf"
	var digest api.Digest
	decode(r.t, r.want(200, "GET", manual+"/digest", "", ""), &digest)
	if len(digest.Duties) == 0 {
		r.t.Fatal("the manual has no duties")
	}
	line := manual + "/digest/" + digest.Duties[0].ID
	r.want(204, "PUT", line, asJSON, `{"drop":true}`)
	if said := r.want(200, "GET", manual+"/digest?format=markdown&part=duties", "", ""); bytes.Contains(said, []byte("answerable")) {
		r.t.Errorf("the line that was dropped is still there: %s", said)
	}
	r.want(204, "DELETE", line, "", "")
	r.want(422, "PUT", line, asJSON, `{}`)
	r.want(404, "PUT", manual+"/digest/none", asJSON, `{"drop":true}`)
	r.want(200, "GET", manual+"/digest?format=calendar", "", "")
	r.want(400, "GET", manual+"/digest?format=docx", "", "")
	r.want(400, "GET", manual+"/digest?part=jokes", "", "")
	r.want(200, "GET", manual+"/changes?since=seed-vault-manual.pdf", "", "")
	r.want(400, "GET", manual+"/changes", "", "")
	r.want(404, "GET", manual+"/changes?since=none", "", "")
	if all := r.want(200, "GET", "/collections/garden/summary?length=page&document=seed-vault-manual.pdf", "", ""); !bytes.Contains(all, []byte(`"document":"seed-vault-manual.pdf"`)) {
		r.t.Errorf("the summary is %s", all)
	}
	r.want(422, "GET", "/collections/garden/summary?length=long", "", "")
	if all := r.want(200, "GET", "/collections/garden/list?of=fault+codes&document=seed-vault-manual.pdf", "", ""); !bytes.Contains(all, []byte(`"text":"E3"`)) {
		r.t.Errorf("the fault codes are %s", all)
	}
	r.want(200, "GET", "/collections/garden/list?of=rooms&format=csv", "", "")
	r.want(422, "GET", "/collections/garden/list?of=", "", "")
	r.want(400, "GET", "/collections/garden/list?of=rooms&format=docx", "", "")
	var plain api.Plain
	decode(r.t, r.want(200, "GET", manual+"/plain?from=1&to=9", "", ""), &plain)
	if len(plain.Sentences) < 10 || plain.After.Ease < plain.Before.Ease || plain.After.Sentences <= plain.Before.Sentences {
		r.t.Errorf("in plain words it is %d sentences, before %+v, after %+v", len(plain.Sentences), plain.Before, plain.After)
	}
	r.want(200, "GET", manual+"/plain?format=markdown", "", "")
	r.want(422, "GET", manual+"/plain?from=0", "", "")
	r.want(422, "GET", manual+"/plain?from=9&to=2", "", "")
	r.want(400, "GET", manual+"/plain?format=docx", "", "")
	var sheet api.Sheet
	decode(r.t, r.want(200, "GET", manual+"/sheet", "", ""), &sheet)
	if len(sheet.Questions) < 3 || sheet.Questions[0].Answer == "" || len(sheet.Questions[0].Quote.Boxes) == 0 {
		r.t.Errorf("the sheet is %+v", sheet)
	}
	r.want(200, "GET", manual+"/sheet?format=markdown", "", "")
	r.want(400, "GET", manual+"/sheet?format=docx", "", "")
	if all := r.want(200, "GET", "/collections/garden/suggestions", "", ""); !bytes.Contains(all, []byte(`"question":`)) {
		r.t.Errorf("the suggestions are %s", all)
	}
	if all := r.want(200, "GET", manual+"/tables", "", ""); !bytes.Contains(all, []byte(`"Temperature °C"`)) {
		r.t.Errorf("the tables are %s", all)
	}
	if t := r.want(200, "GET", manual+"/tables/1", "", ""); !bytes.Contains(t, []byte(`"number":-20`)) {
		r.t.Errorf("the first table is %s", t)
	}
	for _, format := range []string{"csv", "xlsx", "svg", "png"} {
		r.want(200, "GET", manual+"/tables/1?format="+format, "", "")
	}
	r.want(404, "GET", manual+"/tables/99", "", "")
	r.want(404, "GET", manual+"/tables/1?joined=true", "", "")
	r.want(422, "GET", manual+"/tables/1?format=svg&chart=bars&column=1", "", "")
	r.want(400, "GET", manual+"/tables/1?format=docx", "", "")
	if all := r.want(200, "GET", manual+"/outline", "", ""); !bytes.Contains(all, []byte("The rule of four hours")) {
		r.t.Errorf("the outline is %s", all)
	}
	var found struct {
		Hits []api.Hit
		Of   int
	}
	decode(r.t, r.want(200, "GET", manual+"/search?query=cold++STORE&top=2", "", ""), &found)
	if len(found.Hits) != 2 || found.Of <= 2 || len(found.Hits[0].Boxes) == 0 || !strings.EqualFold(found.Hits[0].Words, "cold store") {
		r.t.Errorf("found %+v", found)
	}
	r.want(422, "GET", manual+"/search?query=+", "", "")
	r.want(200, "PUT", "/collections/garden/intake", asJSON, `{"paused":true}`)
	kind, body := form(r.t, "storm-damage-report.pdf")
	r.want(202, "POST", "/collections/garden/documents", kind, body)
	if now := r.want(200, "GET", "/collections/garden/intake", "", ""); !bytes.Contains(now, []byte(`"paused":true,"to_go":1`)) {
		r.t.Errorf("the intake is %s", now)
	}
	r.want(200, "PUT", "/collections/garden/intake", asJSON, `{"paused":false}`)
	r.settled("garden")
	described := r.want(200, "PATCH", "/collections/garden", asJSON, `{"description":" What the  garden keeps. "}`)
	if !bytes.Contains(described, []byte(`"description":"What the garden keeps."`)) {
		r.t.Errorf("the collection is %s", described)
	}
	r.want(400, "PATCH", "/collections/garden", asJSON, `{}`)
	r.sources()
	r.want(202, "POST", "/demo", "", "")
	r.settled("halvern")
	r.want(204, "DELETE", "/collections/halvern", "", "")
}

// sources tries what documents come from, and the fields that they have.
func (r *running) sources() {
	r.t.Helper()
	const where = "/collections/garden/sources"
	page := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, req *http.Request) {
		if req.URL.Path != "/ponds.txt" {
			http.NotFound(w, req)
			return
		}
		io.WriteString(w, "The lily pond is drained every second March.")
	}))
	defer page.Close()
	var added api.Source
	decode(r.t, r.want(201, "POST", where, asJSON, `{"kind":"address","at":"`+page.URL+`/ponds.txt"}`), &added)
	if added.Files != 1 {
		r.t.Errorf("the source is %+v", added)
	}
	for _, bad := range []string{`{"kind":"address","at":"` + page.URL + `/ponds.txt"}`, `{"kind":"address","at":"http://elsewhere.example/"}`, `{"kind":"folder","at":"/etc"}`, `{"kind":"letter","at":"x"}`} {
		if status, _ := r.do("POST", where, asJSON, []byte(bad)); status != 422 && status != 409 {
			r.t.Errorf("%s: %d", bad, status)
		}
	}
	r.want(200, "GET", where, "", "")
	r.want(200, "POST", where+"/"+added.ID+"/look", "", "")
	r.want(204, "DELETE", where+"/"+added.ID, "", "")
	r.want(404, "POST", where+"/"+added.ID+"/look", "", "")
	r.settled("garden")
	r.want(200, "PUT", "/collections/garden/documents/seed-vault-manual.pdf/fields", asJSON, `{"fields":{"Department":"estates"}}`)
	r.want(422, "PUT", "/collections/garden/documents/seed-vault-manual.pdf/fields", asJSON, `{"fields":{"":"x"}}`)
	if said := r.want(200, "PUT", "/collections/garden/fields", "text/csv", "document,department\nponds.txt,water\nnone.pdf,x\n"); !bytes.Contains(said, []byte(`"given":1,"missing":["none.pdf"]`)) {
		r.t.Errorf("fields were given so: %s", said)
	}
	r.want(422, "PUT", "/collections/garden/fields", "text/csv", "document\n")
	if found := r.want(200, "GET", "/collections/garden/find?query=pond&where=department%3DWater", "", ""); !bytes.Contains(found, []byte("ponds.txt")) || bytes.Contains(found, []byte("seed-vault")) {
		r.t.Errorf("where the department is water there is %s", found)
	}
	r.want(400, "GET", "/collections/garden/find?query=pond&where=water", "", "")
	if all := r.want(200, "POST", "/ask", asJSON, `{"question":"How long may seed stay out of the cold store?"}`); !bytes.Contains(all, []byte(`"collection":"garden"`)) {
		r.t.Errorf("all collections answer %s", all)
	}
	form := `{"question":"The cold store","schema":{"type":"object","properties":{"set point":{"type":["number","null"],"description":"What is the set point of the cold store?"},"tigers":{"type":["integer","null"],"description":"How many tigers live there?"}}}}`
	if filled := r.want(200, "POST", "/collections/garden/ask", asJSON, form); !bytes.Contains(filled, []byte(`"value":{"set point":-20,"tigers":null}`)) {
		r.t.Errorf("the form is filled so: %s", filled)
	}
	r.want(422, "POST", "/collections/garden/ask", asJSON, `{"question":"The cold store","schema":{"type":"object","required":["tigers"],"properties":{"tigers":{"type":"integer"}}}}`)
	r.want(404, "POST", "/ask", asJSON, `{"question":"Why?","collections":["none"]}`)
	r.want(200, "DELETE", "/collections/garden/documents/ponds.txt", "", "")
	r.want(422, "POST", "/collections/garden/documents/seed-vault-manual.pdf/unlock", asJSON, `{"password":"fern"}`)
}

// bin removes a document and puts it back, and then removes it for good.
func (r *running) bin() {
	r.t.Helper()
	const name = "boiler-memo-scan.pdf"
	r.want(200, "GET", "/collections/garden/documents/"+name+"/versions", "", "")
	r.want(200, "DELETE", "/collections/garden/documents/"+name+"?conversations=true", "", "")
	r.want(404, "GET", "/collections/garden/documents/"+name, "", "")
	if all := r.want(200, "GET", "/collections/garden/bin", "", ""); !bytes.Contains(all, []byte(name)) {
		r.t.Errorf("in the bin: %s", all)
	}
	r.want(200, "POST", "/collections/garden/bin/"+name, "", "")
	r.want(404, "POST", "/collections/garden/bin/"+name, "", "")
	r.want(200, "DELETE", "/collections/garden/documents/"+name, "", "")
	r.want(204, "DELETE", "/collections/garden/bin/"+name, "", "")
}

// access lets people and programs in; from then on a key is sent.
func (r *running) access() {
	r.t.Helper()
	r.want(200, "GET", "/session", "", "")
	r.key = r.people.Starter()
	var key api.Key
	decode(r.t, r.want(201, "POST", "/keys", asJSON, `{"name":"root","administrator":true,"expires":"2126-01-01T00:00:00Z"}`), &key)
	r.key = key.Secret
	r.want(200, "GET", "/session", "", "")
	r.want(200, "GET", "/keys", "", "")
	r.want(201, "POST", "/people", asJSON, `{"name":"gwen","passphrase":"four loose garden words","rights":{"garden":"reader"}}`)
	r.want(422, "POST", "/people", asJSON, `{"name":"/","passphrase":"four loose garden words"}`)
	r.want(200, "PATCH", "/people/gwen", asJSON, `{"administrator":false,"passphrase":"other loose garden words"}`)
	r.want(200, "GET", "/people", "", "")
	r.want(200, "PUT", "/collections/garden/rights/gwen", asJSON, `{"right":"editor"}`)
	r.want(422, "PUT", "/collections/garden/rights/gwen", asJSON, `{"right":"king"}`)
	r.want(404, "PUT", "/collections/garden/rights/none", asJSON, `{"right":"editor"}`)
	if all := r.want(200, "GET", "/collections/garden/rights", "", ""); !bytes.Contains(all, []byte(`{"name":"gwen","kind":"person","right":"editor"}`)) {
		r.t.Errorf("the rights are %s", all)
	}
	r.want(200, "PUT", "/collections/garden/sharing", asJSON, `{"conversations":true,"questions":true}`)
	r.want(204, "POST", "/session", asJSON, `{"name":"gwen","passphrase":"other loose garden words"}`)
	r.want(422, "PUT", "/session/passphrase", asJSON, `{"current":"a","new":"b"}`) // keys have none
	r.want(204, "DELETE", "/session", "", "")
	r.want(200, "GET", "/hosts", "", "")
	r.want(200, "GET", "/audit", "", "")
	r.want(200, "GET", "/audit?format=jsonl", "", "")
	r.want(400, "GET", "/audit?since=yesterday", "", "")
	r.want(200, "POST", "/audit/verify", "", "")
	if checked := r.want(200, "POST", "/check?mend=true", "", ""); !bytes.Contains(checked, []byte(`"damages":[]`)) {
		r.t.Errorf("what is kept: %s", checked)
	}
	if archive := r.want(200, "POST", "/backup", asJSON, `{"have":[]}`); !bytes.HasPrefix(archive, []byte("manifest.json")) {
		r.t.Errorf("the backup begins with %.40q", archive)
	}
	r.want(204, "DELETE", "/people/gwen", "", "")
	r.want(422, "DELETE", "/keys/root", "", "")
}

// elsewhere signs in where there is no provider.
func (r *running) elsewhere() {
	r.t.Helper()
	r.want(404, "GET", "/session/provider", "", "")
	r.want(404, "GET", "/session/provider/back?code=x&state=y", "", "")
}

// tags tries to keep questions to the documents with a tag.
func (r *running) tags() {
	r.t.Helper()
	const tags = "/collections/garden/documents/seed-vault-manual.pdf/tags"
	if d := r.want(200, "PUT", tags, asJSON, `{"tags":["Vault","manual"]}`); !bytes.Contains(d, []byte(`["manual","vault"]`)) {
		r.t.Errorf("the document is %s", d)
	}
	r.want(422, "PUT", tags, asJSON, `{"tags":["a,b"]}`)
	r.want(404, "PUT", "/collections/garden/documents/none.pdf/tags", asJSON, `{"tags":[]}`)
	if found := r.want(200, "GET", "/collections/garden/find?query=cold+store&tag=manual&tag=vault", "", ""); !bytes.Contains(found, []byte("seed-vault-manual.pdf")) {
		r.t.Errorf("with both tags %s is found", found)
	}
	for _, none := range []string{
		string(r.want(200, "GET", "/collections/garden/find?query=cold+store&tag=railway", "", "")),
		string(r.want(200, "POST", "/collections/garden/ask", asJSON, `{"question":"How long may seed stay out of the cold store?","tags":["railway"]}`)),
	} {
		if strings.Contains(none, "seed-vault-manual.pdf") {
			r.t.Errorf("with another tag: %s", none)
		}
	}
}

// language tries what teaches a collection its language and manner.
func (r *running) language() {
	r.t.Helper()
	const glossary = "/collections/garden/glossary"
	r.want(200, "GET", "/collections/garden/find?query=cold+store&top=3&explain=true", "", "")
	r.want(200, "PUT", glossary, asJSON, `{"entries":[{"kind":"synonym","term":"icebox","means":"cold store"}]}`)
	r.want(422, "PUT", glossary, asJSON, `{"entries":[{"kind":"rhyme","term":"icebox","means":"cold store"}]}`)
	r.want(422, "PUT", glossary, "text/csv", "term,means\na,b\n")
	r.want(200, "PUT", glossary, "text/csv", "kind,term,means\nsynonym,icebox,cold store\n")
	r.want(200, "GET", glossary, "", "")
	if csv := r.want(200, "GET", glossary+"?format=csv", "", ""); !bytes.Contains(csv, []byte("synonym,icebox,cold store")) {
		r.t.Errorf("the glossary as CSV is %q", csv)
	}
	r.lessons()
	r.want(200, "GET", "/collections/garden/style", "", "")
	r.want(422, "PUT", "/collections/garden/style", asJSON, `{"statements":77}`)
	r.want(200, "PUT", "/collections/garden/style", asJSON, `{"statements":2,"add":"Ask in doubt."}`)
}

// lessons tries what readers are shown.
func (r *running) lessons() {
	r.t.Helper()
	const lessons = "/collections/garden/lessons"
	const question = `"question":"When may I throw the little cards out?"`
	var all struct{ Lessons []api.Lesson }
	decode(r.t, r.want(200, "POST", lessons, asJSON, `{"lessons":[{`+question+`,"evidence":[{"document":"seed-vault-manual.pdf","page":17,"quote":"Cards are kept for ever"}]}]}`), &all)
	if len(all.Lessons) != 1 || all.Lessons[0].ID == "" {
		r.t.Fatalf("taught %+v", all)
	}
	r.want(422, "POST", lessons, asJSON, `{"lessons":[{`+question+`,"evidence":[{"document":"seed-vault-manual.pdf","page":17}]}]}`)
	r.want(422, "POST", lessons, asJSON, `{"lessons":[{`+question+`,"evidence":[]}]}`)
	r.want(200, "GET", lessons, "", "")
	// A whole question set is larger than other requests may be.
	wide := strings.Repeat(" ", maxJSON)
	r.want(200, "POST", lessons, asJSON, `{"lessons":[`+wide+`{`+question+`,"evidence":[{"document":"seed-vault-manual.pdf","page":17,"quote":"Cards are kept for ever"}]}]}`)
	r.want(404, "DELETE", lessons+"/none", "", "")
	r.want(204, "DELETE", lessons+"/"+all.Lessons[0].ID, "", "")
}

// conversation tries what is kept of questions, and answers with a trace.
func (r *running) conversation() {
	r.t.Helper()
	var a answer.Answer
	decode(r.t, r.want(200, "POST", "/collections/garden/ask", asJSON, `{"question":"What is the set point of the icebox?","conversation":"new","trace":true}`), &a)
	if a.Conversation == "" || a.Trace == nil || a.Added != "Ask in doubt." {
		r.t.Fatalf("asked %+v", a)
	}
	decode(r.t, r.want(200, "POST", "/collections/garden/ask", asJSON, `{"question":"And its tolerance?","conversation":"`+a.Conversation+`"}`), &a)
	if a.Standalone == a.Question {
		r.t.Errorf("the kept conversation is not heeded: %+v", a)
	}
	r.want(404, "POST", "/collections/garden/ask", asJSON, `{"question":"And its tolerance?","conversation":"NONE"}`)
	r.want(404, "POST", "/collections/garden/ask", asJSON, `{"question":"And its tolerance?","documents":["none.pdf"]}`)
	r.want(200, "GET", "/collections/garden/conversations", "", "")
	kept := "/collections/garden/conversations/" + a.Conversation
	r.want(200, "GET", kept, "", "")
	if page := r.want(200, "GET", kept+"?format=html", "", ""); !bytes.Contains(page, []byte("<h2>And its tolerance?</h2>")) {
		r.t.Errorf("as a page of the web it is %s", page)
	}
	if pages := r.want(200, "GET", kept+"?format=pdf", "", ""); !bytes.HasPrefix(pages, []byte("%PDF-")) {
		r.t.Errorf("as PDF it is %.20q", pages)
	}
	if md := r.want(200, "GET", kept+"?format=markdown", "", ""); !bytes.Contains(md, []byte("## And its tolerance?")) {
		r.t.Errorf("as Markdown it is %s", md)
	}
	set, err := measure.ReadSet("kept.jsonl", r.want(200, "GET", kept+"?format=questions", "", ""))
	if err != nil || len(set.Questions) != 2 || len(set.Questions[1].After) != 1 {
		r.t.Errorf("as questions it is %+v, error %v", set, err)
	}
	r.want(400, "GET", kept+"?format=opera", "", "")
	r.want(204, "DELETE", kept, "", "")
	r.want(404, "GET", kept, "", "")
}

// allSeen fails if an operation is described that nothing has called.
func (r *running) allSeen() {
	description, err := openapi3.NewLoader().LoadFromData(Description)
	if err != nil {
		r.t.Fatal(err)
	}
	for path, item := range description.Paths.Map() {
		for method := range item.Operations() {
			if !r.seen[method+" "+path] {
				r.t.Errorf("%s %s has not been tried", method, path)
			}
		}
	}
}

func decode(t *testing.T, data []byte, into any) {
	t.Helper()
	if err := json.Unmarshal(data, into); err != nil {
		t.Fatal(err)
	}
}

func TestProblems(t *testing.T) {
	r := start(t)
	r.want(201, "POST", "/collections", asJSON, `{"name":"garden"}`)
	emptyKind, emptyForm := form(t)
	tests := []struct {
		status                   int
		method, path, kind, body string
		says                     string
	}{
		{404, "GET", "/collections/none", "", "", `"none"`},
		{409, "POST", "/collections", asJSON, `{"name":"garden"}`, "exists already"},
		{422, "POST", "/collections", asJSON, `{"name":"Two Words"}`, "lower-case"},
		{422, "POST", "/collections", asJSON, `{"name":"x","recipe":{"name":"r","version":1,"passage":{"target":5,"overlap":0}}}`, "20 to 2000"},
		{400, "POST", "/collections", asJSON, `{"name":`, "cannot be read"},
		{400, "POST", "/collections", asJSON, `{"nome":"x"}`, "nome"},
		{415, "POST", "/collections/garden/documents", asJSON, `{}`, "multipart/form-data"},
		{400, "POST", "/collections/garden/documents", emptyKind, emptyForm, "no file"},
		{404, "GET", "/collections/garden/documents/x.pdf", "", "", "x.pdf"},
		{404, "GET", "/collections/garden/documents/x.pdf/pages/1", "", "", "x.pdf"},
		{422, "GET", "/collections/garden/documents/x.pdf/pages/1/picture?dpi=5000", "", "", "20 to 300"},
		{400, "GET", "/collections/garden/find?query=a&top=many", "", "", "whole number"},
		{422, "GET", "/collections/garden/find?query=", "", "", "empty"},
		{422, "POST", "/collections/garden/ask", asJSON, `{"question":" "}`, "empty"},
		{422, "POST", "/collections/garden/measurements", "application/octet-stream", "not json", "line 1"},
		{404, "GET", "/measurements/none", "", "", "none"},
		{404, "DELETE", "/collections/garden/documents/x.pdf", "", "", "x.pdf"},
	}
	for _, test := range tests {
		var problem struct{ Title, Detail string }
		decode(t, r.want(test.status, test.method, test.path, test.kind, test.body), &problem)
		if !strings.Contains(problem.Detail, test.says) || problem.Title == "" {
			t.Errorf("%s %s: the problem says %q, want %q in it", test.method, test.path, problem.Detail, test.says)
		}
	}
}

func TestOtherSitesAreRefused(t *testing.T) {
	r := start(t)
	req, _ := http.NewRequest("POST", r.url+"/api/v1/collections", strings.NewReader(`{"name":"x"}`))
	req.Header.Set("Content-Type", asJSON)
	req.Header.Set("Origin", "http://elsewhere.example")
	resp, err := http.DefaultClient.Do(req)
	if err != nil {
		t.Fatal(err)
	}
	resp.Body.Close()
	if resp.StatusCode != http.StatusForbidden || resp.Header.Get("Content-Type") != "application/problem+json" {
		t.Errorf("another site's request gets %s, %s", resp.Status, resp.Header.Get("Content-Type"))
	}
	req.Header.Set("Origin", r.url)
	req.Body = io.NopCloser(strings.NewReader(`{"name":"x"}`))
	if resp, err = http.DefaultClient.Do(req); err != nil || resp.StatusCode != http.StatusCreated {
		t.Errorf("the console's own request gets %v, %v", resp.Status, err)
	}
}

func TestOperations(t *testing.T) {
	r := start(t)
	for path, want := range map[string]string{
		"/healthz": "ok", "/readyz": "ready", "/metrics": "jardinet_documents_unfinished 0", "/": "<!doctype html>",
		"/c/garden/ask": "<!doctype html>",
	} {
		resp, err := http.Get(r.url + path)
		if err != nil {
			t.Fatal(err)
		}
		data, _ := io.ReadAll(resp.Body)
		resp.Body.Close()
		if resp.StatusCode != 200 || !strings.Contains(string(data), want) {
			t.Errorf("%s gives %s: %.200s", path, resp.Status, data)
		}
	}
	for _, path := range []string{"/assets/none.js", "/api/v1/none"} {
		resp, err := http.Get(r.url + path)
		if err != nil {
			t.Fatal(err)
		}
		resp.Body.Close()
		if resp.StatusCode != 404 {
			t.Errorf("%s gives %s", path, resp.Status)
		}
	}
}
