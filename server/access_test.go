package server

import (
	"context"
	"encoding/json"
	"io"
	"log/slog"
	"net"
	"net/http"
	"net/http/cookiejar"
	"net/netip"
	"strings"
	"sync"
	"testing"

	"github.com/getkin/kin-openapi/openapi3"

	"jardinet/access"
	"jardinet/accuracy"
	"jardinet/api"
	"jardinet/fetch"
	"jardinet/hooks"
	"jardinet/people"
	"jardinet/service"
	"jardinet/sources"
)

// A guarded is a service into which some have been let.
type guarded struct {
	t       *testing.T
	url     string
	service *service.Service
	people  *people.Registry
	stop    func()
}

func startGuarded(t *testing.T, opts Options) *guarded {
	t.Helper()
	return startOn(t, service.Options{Data: t.TempDir()}, opts, false)
}

func startOn(t *testing.T, kept service.Options, opts Options, another bool) *guarded {
	t.Helper()
	kept.Version, kept.Scripts = "test", []string{"none"}
	s, err := service.Open(t.Context(), kept)
	if err != nil {
		t.Fatal(err)
	}
	in, err := people.Open(t.Context(), s, another)
	if err != nil {
		t.Fatal(err)
	}
	listener, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	ctx, cancel := context.WithCancel(context.Background())
	done := make(chan error, 1)
	told := hooks.Open(s, hooks.Options{Addresses: map[string]string{"alarm": "http://127.0.0.1:1"}})
	bench := accuracy.Open(s, told)
	from := sources.Open(s, sources.Options{Fetch: fetch.Policy{Hosts: []string{"127.0.0.1"}, Private: true}})
	go func() {
		done <- Serve(ctx, listener, Parts{s, in, bench, from, told}, opts, slog.New(slog.DiscardHandler))
	}()
	stop := sync.OnceFunc(func() {
		cancel()
		if err := <-done; err != nil {
			t.Errorf("the server ends with %v", err)
		}
		from.Close()
		bench.Close()
		told.Close()
		if err := s.Close(); err != nil {
			t.Error(err)
		}
	})
	t.Cleanup(stop)
	return &guarded{t, "http://" + listener.Addr().String(), s, in, stop}
}

// call sends a request with a key, and returns the status, the headers and the body's beginning.
func (g *guarded) call(method, path, key, body string) (*http.Response, string) {
	g.t.Helper()
	req, err := http.NewRequest(method, g.url+"/api/v1"+path, strings.NewReader(body))
	if err != nil {
		g.t.Fatal(err)
	}
	if body != "" {
		req.Header.Set("Content-Type", "application/json")
	}
	if key != "" {
		req.Header.Set("Authorization", "Bearer "+key)
	}
	resp, err := http.DefaultClient.Do(req)
	if err != nil {
		g.t.Fatal(err)
	}
	defer resp.Body.Close()
	if strings.HasPrefix(resp.Header.Get("Content-Type"), "text/event-stream") {
		return resp, ""
	}
	data, err := io.ReadAll(resp.Body)
	if err != nil {
		g.t.Fatal(err)
	}
	return resp, string(data)
}

func (g *guarded) want(status int, method, path, key, body string) string {
	g.t.Helper()
	resp, data := g.call(method, path, key, body)
	if resp.StatusCode != status {
		g.t.Fatalf("%s %s answers %d, want %d: %s", method, path, resp.StatusCode, status, data)
	}
	return data
}

// key makes a key; the first needs the secret that the service printed.
func (g *guarded) key(with, body string) string {
	g.t.Helper()
	var out api.Key
	if err := json.Unmarshal([]byte(g.want(201, "POST", "/keys", with, body)), &out); err != nil {
		g.t.Fatal(err)
	}
	return out.Secret
}

// fill lets in one of each right in the collection garden, and one who has none there.
func (g *guarded) fill() map[string]string {
	g.t.Helper()
	g.want(201, "POST", "/collections", "", `{"name":"garden"}`)
	g.want(201, "POST", "/collections", "", `{"name":"railway"}`)
	root := g.key(g.people.Starter(), `{"name":"root","administrator":true}`)
	return map[string]string{
		"nobody":        "",
		"stranger":      g.key(root, `{"name":"stranger","rights":{"railway":"owner"}}`),
		"reader":        g.key(root, `{"name":"reader","rights":{"garden":"reader"}}`),
		"editor":        g.key(root, `{"name":"editor","rights":{"garden":"editor"}}`),
		"owner":         g.key(root, `{"name":"owner","rights":{"garden":"owner"}}`),
		"administrator": root,
	}
}

var has = map[string]access.Right{
	"nobody": access.Anyone, "stranger": access.Known, "reader": access.Reader, "editor": access.Editor, "owner": access.Owner,
	"administrator": access.Administrator,
}

// TestWhoMayDoWhat walks every operation of the description with every right and with none.
func TestWhoMayDoWhat(t *testing.T) {
	g := startGuarded(t, Options{})
	keys := g.fill()
	description, err := openapi3.NewLoader().LoadFromData(Description)
	if err != nil {
		t.Fatal(err)
	}
	described := map[string]bool{"readMetrics": true}
	last := []func(){}
	for path, item := range description.Paths.Map() {
		for method, operation := range item.Operations() {
			described[operation.OperationID] = true
			if _, ok := access.Needs[operation.OperationID]; !ok {
				t.Errorf("%s needs no right that is known", operation.OperationID)
			}
			for who, key := range keys {
				try := func() { g.mayOrNot(operation.OperationID, method, path, who, key) }
				if operation.OperationID == "removeCollection" && has[who] >= access.Owner {
					last = append(last, try) // when the others are through with it
					continue
				}
				try()
			}
		}
	}
	for _, try := range last[:1] {
		try()
	}
	for name := range access.Needs {
		if !described[name] {
			t.Errorf("%s is in the table of rights and not in the description", name)
		}
	}
}

func (g *guarded) mayOrNot(operation, method, path, who, key string) {
	g.t.Helper()
	address := strings.NewReplacer("{collection}", "garden", "{page}", "1", "{document}", "none", "{conversation}", "none", "{lesson}", "none",
		"{measurement}", "none", "{other}", "none", "{job}", "none", "{set}", "none", "{question}", "none", "{trial}", "none", "{version}", "1", "{person}", "none", "{key}", "none", "{holder}", "none", "{hook}", "none", "{line}", "none", "{table}", "1").Replace(path)
	body := ""
	if method != "GET" && method != "DELETE" {
		body = "{}"
	}
	resp, data := g.call(method, address, key, body)
	need, right := access.Needs[operation], has[who]
	inside := strings.Contains(path, "{collection}")
	if !inside && right < access.Administrator {
		right = min(right, access.Known)
	}
	var want int // 0 for let through, whatever it comes to
	switch {
	case right >= need || need == access.Anyone:
	case right == access.Anyone:
		want = 401
	case inside && right < access.Reader:
		want = 404
	default:
		want = 403
	}
	through := resp.StatusCode != 401 && resp.StatusCode != 403 && !strings.Contains(data, `"detail":"collection \"garden\": not found"`)
	if operation == "signIn" { // says that there is no such name
		through = true
	}
	if want == 0 && !through || want != 0 && (through || resp.StatusCode != want) {
		g.t.Errorf("%s %s by %s answers %d: %.200s", method, path, who, resp.StatusCode, data)
	}
}

// TestWhatIsNotThere holds that a collection that is not for the caller cannot be told from
// one that does not exist.
func TestWhatIsNotThere(t *testing.T) {
	g := startGuarded(t, Options{})
	keys := g.fill()
	if all := g.want(200, "GET", "/collections", keys["stranger"], ""); strings.Contains(all, "garden") {
		t.Errorf("the stranger is shown %s", all)
	}
	_, hidden := g.call("GET", "/collections/garden/documents", keys["stranger"], "")
	_, missing := g.call("GET", "/collections/meadow/documents", keys["stranger"], "")
	if strings.ReplaceAll(hidden, "garden", "meadow") != missing {
		t.Errorf("what is hidden is %s, what is missing %s", hidden, missing)
	}
	if _, taken := g.call("POST", "/collections", keys["owner"], `{"name":"railway"}`); strings.Contains(taken, "exists") {
		t.Errorf("who may not make collections learns which there are: %s", taken)
	}
}

func TestFirstAdministrator(t *testing.T) {
	g := startGuarded(t, Options{})
	const first = `{"name":"edda","passphrase":"four loose garden words","administrator":true}`
	if data := g.want(403, "POST", "/people", "", first); !strings.Contains(data, "jardinet serve") {
		t.Errorf("without the link: %s", data)
	}
	starter := g.people.Starter()
	g.want(422, "POST", "/people", starter, `{"name":"edda","passphrase":"short","administrator":true}`)
	g.want(422, "POST", "/people", starter, `{"name":"edda","passphrase":"four loose garden words"}`)
	g.want(201, "POST", "/people", starter, first)
	g.want(401, "GET", "/collections", "", "")
	g.want(401, "GET", "/people", starter, "") // the link is used up
	jar, _ := cookiejar.New(nil)
	browser := &http.Client{Jar: jar}
	send := func(method, path, body string) int {
		req, _ := http.NewRequest(method, g.url+"/api/v1"+path, strings.NewReader(body))
		req.Header.Set("Content-Type", "application/json")
		resp, err := browser.Do(req)
		if err != nil {
			t.Fatal(err)
		}
		resp.Body.Close()
		for _, c := range resp.Cookies() {
			if !c.HttpOnly || c.SameSite != http.SameSiteStrictMode {
				t.Errorf("the session's cookie is %s", c)
			}
		}
		return resp.StatusCode
	}
	for _, step := range []struct {
		status             int
		method, path, body string
	}{
		{401, "POST", "/session", `{"name":"edda","passphrase":"four loose garden wolves"}`},
		{204, "POST", "/session", `{"name":"Edda","passphrase":"four loose garden words"}`},
		{200, "GET", "/people", ""},
		{422, "DELETE", "/people/edda", ""}, // the last administrator
		{422, "PUT", "/session/passphrase", `{"current":"wrong","new":"some other garden words"}`},
		{204, "PUT", "/session/passphrase", `{"current":"four loose garden words","new":"some other garden words"}`},
		{401, "GET", "/people", ""},
		{204, "POST", "/session", `{"name":"edda","passphrase":"some other garden words"}`},
		{204, "DELETE", "/session", ""},
		{401, "GET", "/people", ""},
	} {
		if got := send(step.method, step.path, step.body); got != step.status {
			t.Fatalf("%s %s answers %d, want %d", step.method, step.path, got, step.status)
		}
	}
}

// TestLostPassphrases makes another administrator where the others cannot come in any more.
func TestLostPassphrases(t *testing.T) {
	dir := t.TempDir()
	first := startOn(t, service.Options{Data: dir}, Options{}, false)
	first.want(201, "POST", "/people", first.people.Starter(), `{"name":"edda","passphrase":"four loose garden words","administrator":true}`)
	first.stop()
	again := startOn(t, service.Options{Data: dir}, Options{}, true)
	again.want(401, "GET", "/people", "", "")
	again.want(422, "POST", "/people", again.people.Starter(), `{"name":"gwen","passphrase":"other loose garden words"}`)
	secret := again.people.Starter()
	again.want(201, "POST", "/people", secret, `{"name":"gwen","passphrase":"other loose garden words","administrator":true}`)
	again.want(401, "GET", "/people", secret, "")
}

func TestGuessingIsSlow(t *testing.T) {
	g := startGuarded(t, Options{})
	g.want(201, "POST", "/people", g.people.Starter(), `{"name":"edda","passphrase":"four loose garden words","administrator":true}`)
	for range 5 {
		g.want(401, "POST", "/session", "", `{"name":"edda","passphrase":"a guess at the words"}`)
	}
	resp, _ := g.call("POST", "/session", "", `{"name":"edda","passphrase":"four loose garden words"}`)
	if resp.StatusCode != 429 || resp.Header.Get("Retry-After") == "" {
		t.Errorf("after five guesses: %s, Retry-After %q", resp.Status, resp.Header.Get("Retry-After"))
	}
}

func TestKeysExpireAndAreRevoked(t *testing.T) {
	g := startGuarded(t, Options{})
	keys := g.fill()
	g.want(422, "POST", "/keys", keys["administrator"], `{"name":"old","rights":{"garden":"reader"},"expires":"2020-01-01T00:00:00Z"}`)
	g.want(422, "POST", "/keys", keys["administrator"], `{"name":"idle"}`)
	g.want(409, "POST", "/keys", keys["administrator"], `{"name":"Reader","rights":{"garden":"reader"}}`)
	if all := g.want(200, "GET", "/keys", keys["administrator"], ""); strings.Contains(all, "secret") || strings.Contains(all, keys["reader"]) {
		t.Errorf("the keys are listed with secrets: %s", all)
	}
	g.want(200, "GET", "/collections/garden", keys["reader"], "")
	g.want(204, "DELETE", "/keys/reader", keys["administrator"], "")
	g.want(401, "GET", "/collections/garden", keys["reader"], "")
}

// TestConversationsAreTheirAskers holds that others see them only where the collection says so.
func TestConversationsAreTheirAskers(t *testing.T) {
	g := startGuarded(t, Options{})
	keys := g.fill()
	const asked = `{"question":"When are the cards thrown out?","conversation":"new"}`
	var a struct{ Conversation string }
	if err := json.Unmarshal([]byte(g.want(200, "POST", "/collections/garden/ask", keys["reader"], asked)), &a); err != nil {
		t.Fatal(err)
	}
	kept := "/collections/garden/conversations/" + a.Conversation
	g.want(200, "GET", kept, keys["reader"], "")
	for _, who := range []string{"owner", "administrator"} {
		g.want(404, "GET", kept, keys[who], "")
		if all := g.want(200, "GET", "/collections/garden/conversations", keys[who], ""); strings.Contains(all, "cards") {
			t.Errorf("the %s sees %s", who, all)
		}
	}
	g.want(403, "PUT", "/collections/garden/sharing", keys["editor"], `{"conversations":true,"questions":true}`)
	g.want(200, "PUT", "/collections/garden/sharing", keys["owner"], `{"conversations":true,"questions":true}`)
	g.want(200, "GET", kept, keys["owner"], "")
	g.want(404, "GET", kept, keys["editor"], "")
	if told := g.want(200, "GET", "/collections/garden", keys["reader"], ""); !strings.Contains(told, `"conversations":true`) {
		t.Errorf("the reader is not told: %s", told)
	}
}

func TestAudit(t *testing.T) {
	g := startGuarded(t, Options{})
	keys := g.fill()
	root := keys["administrator"]
	g.want(403, "DELETE", "/collections/garden", keys["reader"], "")
	g.want(404, "GET", "/collections/garden/documents/none/file", keys["reader"], "")
	g.want(200, "POST", "/collections/garden/ask", keys["reader"], `{"question":"Where is the private question?"}`)
	g.want(200, "PUT", "/collections/garden/sharing", keys["owner"], `{"conversations":false,"questions":true}`)
	g.want(200, "POST", "/collections/garden/ask", keys["reader"], `{"question":"Where is the open question?"}`)
	all := g.want(200, "GET", "/audit?top=200", root, "")
	for _, want := range []string{`"operation":"removeCollection","collection":"garden","outcome":403`, `"object":"none","outcome":404`, "the open question"} {
		if !strings.Contains(all, want) {
			t.Errorf("the audit lacks %s: %s", want, all)
		}
	}
	if strings.Contains(all, "private question") {
		t.Errorf("the audit keeps a question that it should not: %s", all)
	}
	if some := g.want(200, "GET", "/audit?who=owner", root, ""); !strings.Contains(some, "setSharing") || strings.Contains(some, `"who":"reader"`) {
		t.Errorf("of the owner: %s", some)
	}
	if state := g.want(200, "POST", "/audit/verify", root, ""); !strings.Contains(state, `"whole":true`) {
		t.Errorf("the audit is %s", state)
	}
	lines := strings.Split(strings.TrimSpace(g.want(200, "GET", "/audit?format=jsonl", root, "")), "\n")
	if len(lines) < 10 || !strings.HasPrefix(lines[0], `{"number":1,`) {
		t.Errorf("as lines: %d, the first %s", len(lines), lines[0])
	}
}

func TestLimits(t *testing.T) {
	g := startGuarded(t, Options{Limits: Limits{Requests: 100, Questions: 4}})
	keys := g.fill()
	const ask = `{"question":"When are the cards thrown out?"}`
	statuses := map[int]int{}
	for range 4 {
		resp, data := g.call("POST", "/collections/garden/ask", keys["reader"], ask)
		statuses[resp.StatusCode]++
		if resp.StatusCode == 429 && (resp.Header.Get("Retry-After") == "" || !strings.Contains(data, "4 questions a minute")) {
			t.Errorf("over the limit: Retry-After %q, %s", resp.Header.Get("Retry-After"), data)
		}
	}
	if statuses[200] != 2 || statuses[429] != 2 {
		t.Errorf("of four questions at once: %v", statuses)
	}
	g.want(200, "POST", "/collections/garden/ask", keys["editor"], ask) // has a count of its own
}

// TestTheWire tries requests that a service on one's own machine must not heed.
func TestTheWire(t *testing.T) {
	g := startGuarded(t, Options{Hosts: []string{"manuals.example"}, Proxies: []netip.Prefix{netip.MustParsePrefix("127.0.0.1/32")}})
	g.want(201, "POST", "/collections", "", `{"name":"garden"}`)
	tests := []struct {
		status       int
		method, path string
		headers      map[string]string
		body         string
	}{
		{421, "GET", "/collections", map[string]string{"Host": "evil.example"}, ""},
		{421, "PUT", "/collections/garden/style", map[string]string{"Host": "evil.example", "Origin": "http://evil.example"}, "{}"},
		{200, "GET", "/collections", map[string]string{"Host": "manuals.example:8090"}, ""},
		{200, "GET", "/collections", map[string]string{"Host": "localhost"}, ""},
		{403, "PUT", "/collections/garden/style", map[string]string{"Origin": "http://elsewhere.example"}, "{}"},
		{403, "PUT", "/collections/garden/style", map[string]string{"Sec-Fetch-Site": "cross-site"}, "{}"},
		{415, "PUT", "/collections/garden/style", map[string]string{"Content-Type": "text/plain"}, "{}"},
		{400, "PUT", "/collections/garden/style", nil, "null"},
		{400, "PUT", "/collections/garden/style", nil, "{} {}"},
		{400, "PUT", "/collections/garden/style", nil, "{\"add\":\"\xff\"}"},
		{413, "PUT", "/collections/garden/style", nil, `{"add":"` + strings.Repeat("x", maxJSON) + `"}`},
		{405, "PATCH", "/collections/garden/style", nil, "{}"},
		{405, "DELETE", "/openapi.yaml", nil, ""},
		{404, "DELETE", "/nowhere", nil, ""},
		{200, "HEAD", "/collections", nil, ""},
	}
	for _, test := range tests {
		req, err := http.NewRequest(test.method, g.url+"/api/v1"+test.path, strings.NewReader(test.body))
		if err != nil {
			t.Fatal(err)
		}
		if test.body != "" {
			req.Header.Set("Content-Type", "application/json")
		}
		for name, value := range test.headers {
			req.Header.Set(name, value)
		}
		if host := test.headers["Host"]; host != "" {
			req.Host = host
		}
		resp, err := http.DefaultClient.Do(req)
		if err != nil {
			t.Fatal(err)
		}
		data, _ := io.ReadAll(resp.Body)
		resp.Body.Close()
		if resp.StatusCode != test.status {
			t.Errorf("%s %s with %v answers %s, want %d: %.200s", test.method, test.path, test.headers, resp.Status, test.status, data)
		}
		if resp.StatusCode == 405 && resp.Header.Get("Allow") == "" {
			t.Errorf("%s %s does not say what is allowed", test.method, test.path)
		}
	}
}
