// Package spans tells a collector, by OpenTelemetry's protocol over HTTP, how long requests took and
// the stages of answers within them. Until it is started nothing is measured and nothing is sent.
package spans

import (
	"context"
	"fmt"
	"net/http"
	"net/url"
	"time"

	"go.opentelemetry.io/otel/attribute"
	"go.opentelemetry.io/otel/exporters/otlp/otlptrace/otlptracehttp"
	"go.opentelemetry.io/otel/propagation"
	"go.opentelemetry.io/otel/sdk/resource"
	sdk "go.opentelemetry.io/otel/sdk/trace"
	"go.opentelemetry.io/otel/trace"
)

// A Sender sends spans to one collector; nil sends none.
type Sender struct {
	provider *sdk.TracerProvider
	tracer   trace.Tracer
}

// Start sends spans to the collector at an address such as http://127.0.0.1:4318. Its errors are
// those of the address; a collector that cannot be reached later costs the spans and nothing else.
func Start(ctx context.Context, address, version string) (*Sender, error) {
	at, err := url.Parse(address)
	if err != nil || at.Host == "" || at.Scheme != "http" && at.Scheme != "https" {
		return nil, fmt.Errorf("spans: %q is no address of a collector; write it as http://127.0.0.1:4318", address)
	}
	if at.Path == "" || at.Path == "/" {
		at.Path = "/v1/traces"
	}
	exporter, err := otlptracehttp.New(ctx, otlptracehttp.WithEndpointURL(at.String()), otlptracehttp.WithRetry(otlptracehttp.RetryConfig{}))
	if err != nil {
		return nil, fmt.Errorf("spans: %w", err)
	}
	about := resource.NewSchemaless(attribute.String("service.name", "jardinet"), attribute.String("service.version", version))
	p := sdk.NewTracerProvider(sdk.WithBatcher(exporter), sdk.WithResource(about))
	return &Sender{p, p.Tracer("jardinet")}, nil
}

// Close sends what is left, for up to so long.
func (s *Sender) Close(within time.Duration) error {
	if s == nil {
		return nil
	}
	ctx, cancel := context.WithTimeout(context.Background(), within)
	defer cancel()
	return s.provider.Shutdown(ctx)
}

// Begin begins the span of a request, as part of the caller's trace if it names one (W3C Trace
// Context). The context goes on to what is done for the request.
func (s *Sender) Begin(r *http.Request, id string) (context.Context, *Request) {
	if s == nil {
		return r.Context(), nil
	}
	ctx := propagation.TraceContext{}.Extract(r.Context(), propagation.HeaderCarrier(r.Header))
	ctx, span := s.tracer.Start(ctx, r.Method, trace.WithSpanKind(trace.SpanKindServer), trace.WithAttributes(
		attribute.String("http.request.method", r.Method), attribute.String("jardinet.request", id)))
	return ctx, &Request{span}
}

// A Request is the span of one; nil does nothing.
type Request struct{ span trace.Span }

// End ends a request's span; route and operation are as the API has them.
func (r *Request) End(route, operation string, status int) {
	if r == nil {
		return
	}
	r.span.SetName(operation)
	if operation == "" {
		r.span.SetName(route)
	}
	r.span.SetAttributes(attribute.String("http.route", route), attribute.Int("http.response.status_code", status))
	r.span.End()
}

// A Stage is a part of what was done, which took some milliseconds.
type Stage struct {
	Name string
	Took float64
}

// Stages adds stages that followed each other, and have just ended, to the span of a context.
func Stages(ctx context.Context, stages ...Stage) {
	span := trace.SpanFromContext(ctx)
	if !span.IsRecording() {
		return
	}
	tracer := span.TracerProvider().Tracer("jardinet")
	at := time.Now()
	for _, stage := range stages {
		at = at.Add(-milliseconds(stage.Took))
	}
	for _, stage := range stages {
		_, one := tracer.Start(ctx, stage.Name, trace.WithTimestamp(at))
		at = at.Add(milliseconds(stage.Took))
		one.End(trace.WithTimestamp(at))
	}
}

func milliseconds(n float64) time.Duration { return time.Duration(n * float64(time.Millisecond)) }
