package programs

import (
	"context"
	"fmt"
	"net/url"
	"strconv"
	"strings"

	"github.com/modelcontextprotocol/go-sdk/mcp"

	"jardinet/answer"
	"jardinet/api"
	"jardinet/client"
)

// Server returns a server of the Model Context Protocol whose tools call the API as c. base is
// the address that people reach the service by, for links.
func Server(c *client.Client, base, version string) *mcp.Server {
	s := mcp.NewServer(&mcp.Implementation{Name: "jardinet", Title: "Jardinet", Version: version}, &mcp.ServerOptions{
		Instructions: "Jardinet answers from an organisation's own manuals, policies and reports, with the page that proves each statement. Ask it before you answer from memory, name the pages that it cites, and where it says that the documents do not say, say so too.",
	})
	t := tools{c, base}
	read := &mcp.ToolAnnotations{ReadOnlyHint: true, OpenWorldHint: new(bool)}
	mcp.AddTool(s, &mcp.Tool{Name: "list_collections", Annotations: read, Description: "List the collections of documents that can be asked, with how many documents and pages each has. Call it first, since every other tool needs the name of a collection."}, t.collections)
	mcp.AddTool(s, &mcp.Tool{Name: "list_documents", Annotations: read, Description: "List the documents of a collection: file names, titles, pages, languages and tags."}, t.documents)
	mcp.AddTool(s, &mcp.Tool{Name: "ask", Annotations: read, Description: "Answer a question from a collection's documents. Gives the short answer, the sentences that prove it word for word, and the page of each; or says that the documents do not say, with the places that come nearest. Use this for questions; use search to look around."}, t.ask)
	mcp.AddTool(s, &mcp.Tool{Name: "search", Annotations: read, Description: "Find the passages of a collection that are nearest to some words, by the words and by their meaning. Gives whole passages with their pages. Words in quotes have to stand side by side; a word after a dash must not be there."}, t.search)
	mcp.AddTool(s, &mcp.Tool{Name: "read_page", Annotations: read, Description: "Read what stands on one page of a document: headings, paragraphs, lists, and tables cell by cell."}, t.page)
	s.AddResourceTemplate(&mcp.ResourceTemplate{
		Name: "page", Title: "A page of a document", URITemplate: "jardinet://{collection}/{document}/{page}", MIMEType: "text/plain",
		Description: "What was read from a page, as plain text.",
	}, t.resource)
	return s
}

type tools struct {
	client *client.Client
	base   string
}

type (
	nothing struct{}

	listedCollections struct {
		Collections []listedCollection `json:"collections"`
	}
	listedCollection struct {
		Name      string   `json:"name"`
		Documents int      `json:"documents" jsonschema:"that are ready"`
		Pages     int      `json:"pages"`
		Languages []string `json:"languages"`
	}

	ofCollection struct {
		Collection string `json:"collection" jsonschema:"name of a collection, as list_collections gives it"`
	}
	listedDocuments struct {
		Documents []listedDocument `json:"documents"`
	}
	listedDocument struct {
		Name     string   `json:"name" jsonschema:"file name"`
		Title    string   `json:"title"`
		Pages    int      `json:"pages"`
		Language string   `json:"language"`
		Tags     []string `json:"tags"`
	}

	asked struct {
		Collection string   `json:"collection" jsonschema:"name of a collection, as list_collections gives it"`
		Question   string   `json:"question" jsonschema:"one question, in plain words"`
		After      []string `json:"after,omitempty" jsonschema:"earlier questions that it follows, the oldest first"`
		Documents  []string `json:"documents,omitempty" jsonschema:"file names, to look in these alone"`
		Tags       []string `json:"tags,omitempty" jsonschema:"to look only in documents with all of these tags"`
	}
	answered struct {
		Answered   bool        `json:"answered" jsonschema:"false where the documents do not say"`
		Answer     string      `json:"answer"`
		Statements []statement `json:"statements"`
		Citations  []Cited     `json:"citations"`
		Confidence float64     `json:"confidence" jsonschema:"0 to 1"`
		Nearest    []Cited     `json:"nearest" jsonschema:"where the documents come nearest, if they do not say"`
	}
	statement struct {
		Text      string `json:"text"`
		Citations []int  `json:"citations" jsonschema:"numbers of citations"`
		Contrary  string `json:"contrary,omitempty" jsonschema:"another document or edition that says otherwise"`
	}

	sought struct {
		Collection string   `json:"collection" jsonschema:"name of a collection, as list_collections gives it"`
		Query      string   `json:"query"`
		Top        int      `json:"top,omitempty" jsonschema:"how many passages, 1 to 100; 10 if absent"`
		Documents  []string `json:"documents,omitempty" jsonschema:"file names, to look in these alone"`
		Tags       []string `json:"tags,omitempty" jsonschema:"to look only in documents with all of these tags"`
	}
	found struct {
		Passages []Cited `json:"passages" jsonschema:"the best first; the quote is the whole passage"`
	}

	onePage struct {
		Collection string `json:"collection"`
		Document   string `json:"document" jsonschema:"file name"`
		Page       int    `json:"page" jsonschema:"physical page, counted from 1"`
	}
	readPage struct {
		Title string `json:"title"`
		Page  int    `json:"page"`
		Of    int    `json:"of" jsonschema:"pages of the document"`
		Label string `json:"label,omitempty" jsonschema:"page number as printed"`
		Text  string `json:"text"`
		Link  string `json:"link"`
	}
)

func (t tools) collections(ctx context.Context, _ *mcp.CallToolRequest, _ nothing) (*mcp.CallToolResult, listedCollections, error) {
	all, err := t.client.Collections(ctx)
	out := listedCollections{Collections: []listedCollection{}}
	for _, c := range all {
		out.Collections = append(out.Collections, listedCollection{c.Name, c.Documents["ready"], c.Pages, c.Languages})
	}
	return nil, out, err
}

func (t tools) documents(ctx context.Context, _ *mcp.CallToolRequest, in ofCollection) (*mcp.CallToolResult, listedDocuments, error) {
	all, err := t.client.Documents(ctx, in.Collection)
	out := listedDocuments{Documents: []listedDocument{}}
	for _, d := range all {
		if d.State == "ready" {
			out.Documents = append(out.Documents, listedDocument{d.Name, d.Title, d.Pages, d.Language, d.Tags})
		}
	}
	return nil, out, err
}

func (t tools) ask(ctx context.Context, _ *mcp.CallToolRequest, in asked) (*mcp.CallToolResult, answered, error) {
	a, err := t.client.Ask(ctx, in.Collection, api.Ask{Question: in.Question, After: in.After, Scope: api.Scope{Documents: in.Documents, Tags: in.Tags}})
	if err != nil {
		return nil, answered{}, err
	}
	out := answered{Answered: a.State != answer.NotFound, Answer: a.Text, Statements: []statement{}, Citations: cited(t.base, in.Collection, a.Citations), Confidence: a.Confidence, Nearest: []Cited{}}
	if a.Short != "" {
		out.Answer = a.Short
	}
	for _, s := range a.Statements {
		if !s.Unproven {
			out.Statements = append(out.Statements, statement{s.Text, s.Citations, s.Contrary})
		}
	}
	for i, n := range a.Nearest {
		out.Nearest = append(out.Nearest, Cited{i + 1, n.Document, n.Title, n.Page, n.Label, strings.Join(n.Section, " › "), n.Text, link(t.base, in.Collection, n.Document, n.Page)})
	}
	return nil, out, nil
}

func (t tools) search(ctx context.Context, _ *mcp.CallToolRequest, in sought) (*mcp.CallToolResult, found, error) {
	if in.Top == 0 {
		in.Top = 10
	}
	all, err := t.client.Find(ctx, in.Collection, in.Query, in.Top, api.Scope{Documents: in.Documents, Tags: in.Tags})
	out := found{Passages: []Cited{}}
	for _, p := range all.Passages {
		if len(p.Pages) > 0 {
			out.Passages = append(out.Passages, Cited{p.Rank, p.Document, p.Title, p.Pages[0], p.Label, strings.Join(p.Section, " › "), p.Text, link(t.base, in.Collection, p.Document, p.Pages[0])})
		}
	}
	return nil, out, err
}

func (t tools) page(ctx context.Context, _ *mcp.CallToolRequest, in onePage) (*mcp.CallToolResult, readPage, error) {
	p, err := t.client.Page(ctx, in.Collection, in.Document, in.Page)
	if err != nil {
		return nil, readPage{}, err
	}
	return nil, readPage{p.Title, p.Number, p.Of, p.Label, textOf(p), link(t.base, in.Collection, p.Document, p.Number)}, nil
}

// textOf is what was read of a page without its running headers and footers.
func textOf(p *api.Page) string {
	var out strings.Builder
	for _, b := range p.Blocks {
		if b.Kind != "furniture" && b.Text != "" {
			out.WriteString(b.Text + "\n\n")
		}
	}
	return strings.TrimSpace(out.String())
}

// resource reads a page by its address.
func (t tools) resource(ctx context.Context, r *mcp.ReadResourceRequest) (*mcp.ReadResourceResult, error) {
	u, err := url.Parse(r.Params.URI)
	if err != nil {
		return nil, err
	}
	parts := strings.Split(strings.Trim(u.Path, "/"), "/")
	number, err := strconv.Atoi(parts[len(parts)-1])
	if len(parts) != 2 || err != nil {
		return nil, fmt.Errorf("%s: write it as jardinet://collection/document.pdf/12", r.Params.URI)
	}
	p, err := t.client.Page(ctx, u.Host, parts[0], number)
	if err != nil {
		return nil, mcp.ResourceNotFoundError(r.Params.URI)
	}
	return &mcp.ReadResourceResult{Contents: []*mcp.ResourceContents{{URI: r.Params.URI, MIMEType: "text/plain", Text: textOf(p)}}}, nil
}
