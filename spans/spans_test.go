package spans

import (
	"net/http/httptest"
	"testing"
	"time"

	"jardinet/simulated/collector"
)

// TestARequestWithStages sends a request's span within the caller's trace, and stages within it.
func TestARequestWithStages(t *testing.T) {
	c := new(collector.Collector)
	server := httptest.NewServer(c)
	defer server.Close()
	s, err := Start(t.Context(), server.URL, "test")
	if err != nil {
		t.Fatal(err)
	}
	r := httptest.NewRequest("POST", "/api/v1/collections/garden/ask", nil)
	r.Header.Set("traceparent", "00-0af7651916cd43dd8448eb211c80319c-b7ad6b7169203331-01")
	ctx, request := s.Begin(r, "R1")
	Stages(ctx, Stage{"search", 2}, Stage{"read", 30})
	request.End("/collections/:collection/ask", "ask", 200)
	if err := s.Close(time.Minute); err != nil {
		t.Fatal(err)
	}
	got := c.Spans()
	if len(got) != 3 {
		t.Fatalf("%d spans came in", len(got))
	}
	search, read, ask := got[0], got[1], got[2]
	if ask.Name != "ask" || search.Name != "search" || read.Name != "read" {
		t.Errorf("the spans are %s, %s and %s", search.Name, read.Name, ask.Name)
	}
	if string(read.ParentSpanId) != string(ask.SpanId) || string(ask.ParentSpanId) != "\xb7\xad\x6b\x71\x69\x20\x33\x31" {
		t.Error("the spans are not within each other")
	}
	if took := read.EndTimeUnixNano - read.StartTimeUnixNano; took != 30e6 || search.EndTimeUnixNano != read.StartTimeUnixNano {
		t.Errorf("reading took %d ns, after the search ended by %d", took, read.StartTimeUnixNano-search.EndTimeUnixNano)
	}
}

func TestNothingIsSent(t *testing.T) {
	var none *Sender
	ctx, request := none.Begin(httptest.NewRequest("GET", "/", nil), "R1")
	Stages(ctx, Stage{"search", 2})
	request.End("/", "", 200)
	if err := none.Close(0); err != nil {
		t.Error(err)
	}
	for _, bad := range []string{"", "collector:4318", "ftp://collector"} {
		if _, err := Start(t.Context(), bad, "test"); err == nil {
			t.Errorf("%q is taken for an address", bad)
		}
	}
}
