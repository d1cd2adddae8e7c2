package server

import (
	"bufio"
	"bytes"
	"io"
	"mime/multipart"
	"net/http"
	"slices"
	"strings"
	"testing"
)

// TestStreamEndsWithTheServer wants an open stream of events to end when the
// server is told to stop, so that stopping does not wait for it.
func TestStreamEndsWithTheServer(t *testing.T) {
	g := startGuarded(t, Options{})
	g.want(201, "POST", "/collections", "", `{"name":"garden"}`)
	resp, err := http.Get(g.url + "/api/v1/collections/garden/events")
	if err != nil {
		t.Fatal(err)
	}
	defer resp.Body.Close()
	if kind := resp.Header.Get("Content-Type"); kind != "text/event-stream" {
		t.Errorf("the stream is %s", kind)
	}
	lines := bufio.NewScanner(resp.Body)
	if !lines.Scan() || lines.Text() != "event: listed" {
		t.Errorf("the stream begins with %q", lines.Text())
	}
	g.stop() // which also wants the server to end well
	if _, err := io.ReadAll(resp.Body); err != nil {
		t.Logf("the stream was cut: %v", err)
	}
}

// TestAnswerAsStream wants each statement as an event of its own, and the whole
// answer last.
func TestAnswerAsStream(t *testing.T) {
	r := start(t)
	r.want(201, "POST", "/collections", asJSON, `{"name":"garden"}`)
	kind, body := form(t, "seed-vault-manual.pdf")
	r.want(202, "POST", "/collections/garden/documents", kind, body)
	r.settled("garden")
	for question, want := range map[string][]string{
		`{"question":"What is the set point of the cold store?"}`:                {"passages", "statement", "answer"},
		`{"question":"How many tigers are there?"}`:                              {"passages", "answer"},
		`{"question":"What is the set point?","documents":["no-such-file.pdf"]}`: {"problem"},
	} {
		req, err := http.NewRequestWithContext(t.Context(), "POST", r.url+"/api/v1/collections/garden/ask", strings.NewReader(question))
		if err != nil {
			t.Fatal(err)
		}
		req.Header.Set("Content-Type", asJSON)
		req.Header.Set("Accept", "text/event-stream")
		resp, err := http.DefaultClient.Do(req)
		if err != nil {
			t.Fatal(err)
		}
		var events []string
		for lines := bufio.NewScanner(resp.Body); lines.Scan(); {
			if name, ok := strings.CutPrefix(lines.Text(), "event: "); ok && !slices.Contains(events, name) {
				events = append(events, name)
			}
		}
		resp.Body.Close()
		if !slices.Equal(events, want) {
			t.Errorf("%s streams %v, want %v", question, events, want)
		}
	}
}

func TestStreamOfAnUnknownCollection(t *testing.T) {
	r := start(t)
	r.want(404, "GET", "/collections/none/events", "", "")
}

func TestBrokenUpload(t *testing.T) {
	r := start(t)
	r.want(201, "POST", "/collections", asJSON, `{"name":"garden"}`)
	body := "--b\r\nContent-Disposition: form-data; name=\"file\"; filename=\"a.pdf\"\r\n\r\n%PDF-1.4 cut of"
	status, data := r.do("POST", "/collections/garden/documents", "multipart/form-data; boundary=b", []byte(body))
	if status < 400 || !strings.Contains(string(data), `"status"`) {
		t.Errorf("a broken upload gets %d: %s", status, data)
	}
	r.want(200, "GET", "/collections/garden/documents", "", "")
}

func TestFileHeaders(t *testing.T) {
	r := start(t)
	r.want(201, "POST", "/collections", asJSON, `{"name":"garden"}`)
	kind, body := form(t, "visitor-incident-form.pdf")
	r.want(202, "POST", "/collections/garden/documents", kind, body)
	kind, body = textForm(t, "notice.html", "<!doctype html><p>The pond is closed.</p><script>alert(1)</script>")
	r.want(202, "POST", "/collections/garden/documents", kind, body)
	r.settled("garden")
	for path, want := range map[string]map[string]string{
		"/documents/notice.html/file":                          {"Content-Type": "application/octet-stream", "Content-Disposition": `attachment; filename=notice.html`, "X-Content-Type-Options": "nosniff"},
		"/documents/notice.html/file?as=pages":                 {"Content-Type": "application/pdf", "Content-Disposition": `inline; filename=notice.html.pdf`},
		"/documents/visitor-incident-form.pdf/file":            {"Content-Type": "application/pdf", "Content-Disposition": `inline; filename=visitor-incident-form.pdf`, "X-Content-Type-Options": "nosniff"},
		"/documents/visitor-incident-form.pdf/pages/1/picture": {"Content-Type": "image/png", "Cache-Control": "private, no-cache"},
	} {
		resp, err := http.Get(r.url + "/api/v1/collections/garden" + path)
		if err != nil {
			t.Fatal(err)
		}
		resp.Body.Close()
		for name, value := range want {
			if got := resp.Header.Get(name); got != value {
				t.Errorf("%s: %s is %q, want %q", path, name, got, value)
			}
		}
	}
}

// textForm is a form with one file that holds a text.
func textForm(t *testing.T, name, text string) (kind, body string) {
	t.Helper()
	var b bytes.Buffer
	w := multipart.NewWriter(&b)
	part, err := w.CreateFormFile("file", name)
	if err != nil {
		t.Fatal(err)
	}
	part.Write([]byte(text))
	w.Close()
	return w.FormDataContentType(), b.String()
}
