// Package collector is a simulated collector of spans.
package collector

import (
	"io"
	"net/http"
	"sync"

	otlp "go.opentelemetry.io/proto/otlp/collector/trace/v1"
	spans "go.opentelemetry.io/proto/otlp/trace/v1"
	"google.golang.org/protobuf/proto"
)

// A Collector is a simulated collector of spans, by OpenTelemetry's protocol over HTTP.
type Collector struct {
	mu    sync.Mutex
	spans []*spans.Span
}

// Spans returns what came in so far.
func (c *Collector) Spans() []*spans.Span {
	c.mu.Lock()
	defer c.mu.Unlock()
	return append([]*spans.Span(nil), c.spans...)
}

// ServeHTTP takes spans in.
func (c *Collector) ServeHTTP(w http.ResponseWriter, r *http.Request) {
	data, err := io.ReadAll(r.Body)
	var in otlp.ExportTraceServiceRequest
	if err != nil || r.URL.Path != "/v1/traces" || proto.Unmarshal(data, &in) != nil {
		http.Error(w, "no spans", http.StatusBadRequest)
		return
	}
	c.mu.Lock()
	defer c.mu.Unlock()
	for _, from := range in.ResourceSpans {
		for _, scope := range from.ScopeSpans {
			c.spans = append(c.spans, scope.Spans...)
		}
	}
}
