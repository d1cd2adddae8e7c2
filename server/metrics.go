package server

import (
	"net/http"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/labstack/echo/v5"
	"github.com/prometheus/client_golang/prometheus"
	"github.com/prometheus/client_golang/prometheus/collectors"
	"github.com/prometheus/client_golang/prometheus/promhttp"

	"jardinet/service"
	"jardinet/store"
)

// metrics are what Prometheus collects.
type metrics struct {
	handler  http.Handler
	requests *prometheus.HistogramVec
}

func newMetrics(s *service.Service) *metrics {
	registry := prometheus.NewRegistry()
	m := &metrics{
		handler: promhttp.HandlerFor(registry, promhttp.HandlerOpts{}),
		requests: prometheus.NewHistogramVec(prometheus.HistogramOpts{
			Name: "jardinet_http_request_seconds", Help: "Time to answer requests.",
			Buckets: []float64{.001, .003, .01, .03, .1, .3, 1, 3, 10},
		}, []string{"method", "route", "status"}),
	}
	registry.MustRegister(m.requests, collectors.NewGoCollector(), collectors.NewProcessCollector(collectors.ProcessCollectorOpts{}),
		prometheus.NewCounterFunc(prometheus.CounterOpts{
			Name: "jardinet_pages_read_total", Help: "Pages read since the start.",
		}, func() float64 { return float64(s.Totals().PagesRead) }),
		prometheus.NewGaugeFunc(prometheus.GaugeOpts{
			Name: "jardinet_documents_unfinished", Help: "Documents queued or under way.",
		}, func() float64 { return float64(s.Totals().Queued) }))
	if s.IsTogether() {
		registry.MustRegister(hostMetrics(s)...)
	}
	return m
}

// hostMetrics are those of one of several hosts.
func hostMetrics(s *service.Service) []prometheus.Collector {
	gauge := func(name, help string, value func(*service.Standing) float64) prometheus.Collector {
		return prometheus.NewGaugeFunc(prometheus.GaugeOpts{Name: name, Help: help}, func() float64 { return value(s.Standing()) })
	}
	return []prometheus.Collector{
		gauge("jardinet_cluster_may_answer", "1 if this host knows that it is up to date, 0 if it is cut off.", func(st *service.Standing) float64 {
			if st.MayAnswer {
				return 1
			}
			return 0
		}),
		gauge("jardinet_cluster_hosts", "Hosts that give signs of life.", func(st *service.Standing) float64 { return float64(st.Alive) }),
		gauge("jardinet_cluster_changes", "Number of the last change of the records that this host has.", func(st *service.Standing) float64 { return float64(st.Changes) }),
		gauge("jardinet_cluster_behind", "Changes that another host has and this one does not yet.", func(st *service.Standing) float64 { return float64(st.Behind) }),
		gauge("jardinet_cluster_shards_to_fetch", "Shards of collections that this host has yet to fetch.", func(st *service.Standing) float64 { return float64(st.Fetching) }),
	}
}

// methods are those that are counted by name; others could be made up without end.
var methods = []string{"GET", "HEAD", "POST", "PUT", "PATCH", "DELETE", "OPTIONS"}

func method(r *http.Request) string {
	if slices.Contains(methods, r.Method) {
		return r.Method
	}
	return "other"
}

func (s *Server) readMetrics(c *echo.Context) error {
	s.metrics.handler.ServeHTTP(c.Response(), c.Request())
	return nil
}

// requestHeader carries the id of a request, given by a proxy or made here, by which its line in
// the log is found.
const requestHeader = "X-Request-Id"

// longestID is how long an id from elsewhere may be.
const longestID = 128

func requestID(r *http.Request) string {
	id := r.Header.Get(requestHeader)
	if id == "" || len(id) > longestID || strings.ContainsFunc(id, func(c rune) bool { return c <= ' ' || c > '~' }) {
		return store.NewID()
	}
	return id
}

// observe times and logs requests: one line a request.
func (s *Server) observe(next echo.HandlerFunc) echo.HandlerFunc {
	return func(c *echo.Context) error {
		start, id := time.Now(), requestID(c.Request())
		c.Response().Header().Set(requestHeader, id)
		c.Set(requestOf, id)
		ctx, span := s.Spans.Begin(c.Request(), id)
		c.SetRequest(c.Request().WithContext(ctx))
		err := next(c)
		if err != nil {
			s.problem(c, err)
		}
		_, status := echo.ResolveResponseStatus(c.Response(), nil)
		r, took := c.Request(), time.Since(start)
		s.metrics.requests.WithLabelValues(method(r), c.Path(), strconv.Itoa(status)).Observe(took.Seconds())
		operation, _ := c.Get(operationOf).(string)
		span.End(c.Path(), operation, status)
		s.log.Info("request", "id", id, "operation", c.Get(operationOf), "who", c.Get(callerOf), "address", c.RealIP(), "method", r.Method, "path", r.URL.Path, "status", status, "ms", took.Milliseconds())
		return nil
	}
}
