package server

import (
	"encoding/json"
	"io"
	"net/http"
	"os"
	"strings"
	"testing"

	"github.com/modelcontextprotocol/go-sdk/mcp"
)

// withKey sends a key with each request.
type withKey string

func (k withKey) RoundTrip(r *http.Request) (*http.Response, error) {
	r = r.Clone(r.Context())
	r.Header.Set("Authorization", "Bearer "+string(k))
	return http.DefaultTransport.RoundTrip(r)
}

// connect opens a session of the Model Context Protocol.
func (g *guarded) connect(key string) *mcp.ClientSession {
	g.t.Helper()
	c := mcp.NewClient(&mcp.Implementation{Name: "test", Version: "1"}, nil)
	session, err := c.Connect(g.t.Context(), &mcp.StreamableClientTransport{Endpoint: g.url + "/mcp", HTTPClient: &http.Client{Transport: withKey(key)}, DisableStandaloneSSE: true}, nil)
	if err != nil {
		g.t.Fatal(err)
	}
	g.t.Cleanup(func() { session.Close() })
	return session
}

// tool calls one and decodes what it gives; a failure is told by its text.
func tool(t *testing.T, s *mcp.ClientSession, name string, in, into any) (failure string) {
	t.Helper()
	r, err := s.CallTool(t.Context(), &mcp.CallToolParams{Name: name, Arguments: in})
	if err != nil {
		t.Fatal(err)
	}
	if r.IsError {
		return r.Content[0].(*mcp.TextContent).Text
	}
	data, err := json.Marshal(r.StructuredContent)
	if err != nil {
		t.Fatal(err)
	}
	if err := json.Unmarshal(data, into); err != nil {
		t.Fatal(err)
	}
	return ""
}

func TestContextProtocol(t *testing.T) {
	g := startGuarded(t, Options{})
	keys := g.fill()
	g.manual()
	s := g.connect(keys["reader"])
	tools, err := s.ListTools(t.Context(), nil)
	if err != nil || len(tools.Tools) != 5 {
		t.Fatalf("tools are %+v, error %v", tools, err)
	}
	for _, tool := range tools.Tools {
		if len(tool.Description) < 60 || !tool.Annotations.ReadOnlyHint {
			t.Errorf("%s is described as %q", tool.Name, tool.Description)
		}
	}
	type object = map[string]any
	var collections struct {
		Collections []struct{ Name string }
	}
	if tool(t, s, "list_collections", object{}, &collections); len(collections.Collections) != 1 || collections.Collections[0].Name != "garden" {
		t.Errorf("a reader sees %+v", collections)
	}
	var documents struct{ Documents []struct{ Name string } }
	if tool(t, s, "list_documents", object{"collection": "garden"}, &documents); len(documents.Documents) != 1 {
		t.Fatalf("the documents are %+v", documents)
	}
	name := documents.Documents[0].Name
	var answered struct {
		Answered  bool
		Answer    string
		Citations []struct {
			Document string
			Page     int
			Link     string
		}
	}
	if tool(t, s, "ask", object{"collection": "garden", "question": "How long may seed stay out of the cold store?"}, &answered); !answered.Answered || !strings.Contains(strings.ToLower(answered.Answer), "four hours") {
		t.Fatalf("answered %+v", answered)
	}
	if c := answered.Citations[0]; c.Link != g.url+"/c/garden/pages/"+c.Document+"/4" {
		t.Errorf("cited is %+v", c)
	}
	if tool(t, s, "ask", object{"collection": "garden", "question": "Who keeps the tigers?"}, &answered); answered.Answered {
		t.Errorf("answered %+v", answered)
	}
	var found struct{ Passages []struct{ Quote string } }
	if tool(t, s, "search", object{"collection": "garden", "query": "cold store", "top": 3}, &found); len(found.Passages) != 3 {
		t.Errorf("found %+v", found)
	}
	var page struct {
		Text string
		Of   int
	}
	if tool(t, s, "read_page", object{"collection": "garden", "document": name, "page": 4}, &page); !strings.Contains(page.Text, "four hours") || page.Of != 20 {
		t.Errorf("read %+v", page)
	}
	resource, err := s.ReadResource(t.Context(), &mcp.ReadResourceParams{URI: "jardinet://garden/" + name + "/4"})
	if err != nil || !strings.Contains(resource.Contents[0].Text, "four hours") {
		t.Errorf("the page as a resource is %+v, error %v", resource, err)
	}
	if says := tool(t, s, "read_page", object{"collection": "garden", "document": name, "page": 400}, &page); !strings.Contains(says, "page 400") {
		t.Errorf("a page that is not there gives %q", says)
	}
	stranger := g.connect(keys["stranger"])
	if says := tool(t, stranger, "ask", object{"collection": "garden", "question": "When?"}, &answered); !strings.Contains(says, "not found") {
		t.Errorf("a stranger is told %q", says)
	}
	if says := tool(t, g.connect(""), "list_collections", object{}, &collections); !strings.Contains(says, "sign in") {
		t.Errorf("without a key one is told %q", says)
	}
}

func TestChatCompletions(t *testing.T) {
	g := startGuarded(t, Options{})
	keys := g.fill()
	g.manual()
	chat := func(status int, key, body string) string {
		t.Helper()
		r, err := http.NewRequest(http.MethodPost, g.url+"/v1/chat/completions", strings.NewReader(body))
		if err != nil {
			t.Fatal(err)
		}
		r.Header.Set("Content-Type", "application/json")
		resp, err := (&http.Client{Transport: withKey(key)}).Do(r)
		if err != nil {
			t.Fatal(err)
		}
		defer resp.Body.Close()
		data, err := io.ReadAll(resp.Body)
		if err != nil || resp.StatusCode != status {
			t.Fatalf("%s answers %d, not %d: %s", body, resp.StatusCode, status, data)
		}
		return string(data)
	}
	const question = `{"model":"garden","messages":[{"role":"system","content":"Be brief."},{"role":"user","content":"How long may seed stay out of the cold store?"}]}`
	var whole struct {
		Choices []struct {
			Message struct {
				Content   string
				Refusal   *string
				Citations []struct{ Page int }
			}
			Finish string `json:"finish_reason"`
		}
	}
	decode(t, []byte(chat(200, keys["reader"], question)), &whole)
	m := whole.Choices[0].Message
	if !strings.Contains(strings.ToLower(m.Content), "four hours") || !strings.Contains(m.Content, "(http://") || m.Citations[0].Page != 4 || m.Refusal != nil || whole.Choices[0].Finish != "stop" {
		t.Errorf("the answer is %+v", whole)
	}
	streamed := chat(200, keys["reader"], strings.Replace(question, `"model"`, `"stream":true,"model"`, 1))
	var said strings.Builder
	for _, line := range strings.Split(streamed, "\n") {
		data, ok := strings.CutPrefix(line, "data: ")
		if !ok || data == "[DONE]" {
			continue
		}
		var chunk struct {
			Choices []struct{ Delta struct{ Content string } }
		}
		decode(t, []byte(data), &chunk)
		said.WriteString(chunk.Choices[0].Delta.Content)
	}
	if said.String() != m.Content || !strings.HasSuffix(streamed, "data: [DONE]\n\n") {
		t.Errorf("streamed is %q, whole %q", said.String(), m.Content)
	}
	followed := chat(200, keys["reader"], `{"model":"garden","messages":[{"role":"user","content":[{"type":"text","text":"What is the set point of the cold store?"}]},{"role":"assistant","content":"x"},{"role":"user","content":"And who holds the keys to it?"}]}`)
	if !strings.Contains(followed, `"role":"assistant"`) {
		t.Errorf("a follow-up gives %s", followed)
	}
	whole.Choices = nil
	decode(t, []byte(chat(200, keys["reader"], `{"model":"garden","messages":[{"role":"user","content":"Who keeps the tigers?"}]}`)), &whole)
	if m := whole.Choices[0].Message; m.Refusal == nil || !strings.Contains(m.Content, "What comes closest") {
		t.Errorf("a refusal is %+v", m)
	}
	chat(404, keys["stranger"], question)
	chat(401, "", question)
	chat(400, keys["reader"], "{")
	chat(422, keys["reader"], `{"model":"garden","messages":[]}`)
	resp, err := (&http.Client{Transport: withKey(keys["reader"])}).Get(g.url + "/v1/models")
	if err != nil {
		t.Fatal(err)
	}
	defer resp.Body.Close()
	var models struct{ Data []struct{ ID string } }
	if err := json.NewDecoder(resp.Body).Decode(&models); err != nil || len(models.Data) != 1 || models.Data[0].ID != "garden" {
		t.Errorf("the models are %+v, error %v", models, err)
	}
}

// manual puts a document into the collection, as the service itself.
func (g *guarded) manual() {
	g.t.Helper()
	const name = "seed-vault-manual.pdf"
	f, err := os.Open(documents + name)
	if err != nil {
		g.t.Fatal(err)
	}
	defer f.Close()
	if _, err := g.service.Add(g.t.Context(), "garden", name, f); err != nil {
		g.t.Fatal(err)
	}
	if _, err := g.service.Settle(g.t.Context(), "garden"); err != nil {
		g.t.Fatal(err)
	}
}
