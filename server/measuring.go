package server

import (
	"bytes"
	"context"
	"encoding/json"
	"io"
	"net/http"
	"strconv"
	"time"

	"github.com/labstack/echo/v5"

	"jardinet/accuracy"
	"jardinet/api"
	"jardinet/measure"
	"jardinet/measure/report"
	"jardinet/measure/trec"
)

// measure starts a measurement with a kept question set, or with the one in the body, JSON Lines
// or CSV.
func (s *Server) measure(c *echo.Context) error {
	set, err := s.measurable(c)
	if err != nil {
		return err
	}
	job, err := s.bench.Measure(c.Request().Context(), c.Param("collection"), c.QueryParam("trial"), set)
	if err != nil {
		return err
	}
	return c.JSON(http.StatusAccepted, job)
}

func (s *Server) measurable(c *echo.Context) (*measure.Set, error) {
	if name := c.QueryParam("set"); name != "" {
		part, err := partOf(c)
		if err != nil {
			return nil, err
		}
		return s.bench.Measurable(c.Request().Context(), c.Param("collection"), name, part)
	}
	return setIn(c, c.QueryParam("name"))
}

// setIn reads the question set in a body.
func setIn(c *echo.Context, name string) (*measure.Set, error) {
	data, err := io.ReadAll(http.MaxBytesReader(c.Response(), c.Request().Body, maxSet))
	if err != nil {
		return nil, echo.NewHTTPError(http.StatusRequestEntityTooLarge, "the question set cannot be read: "+err.Error())
	}
	if name == "" {
		name = "questions.jsonl"
	}
	set, err := measure.ReadSet(name, data)
	if err != nil {
		return nil, echo.NewHTTPError(http.StatusUnprocessableEntity, err.Error())
	}
	return set, nil
}

// partOf reads which questions of a set are meant.
func partOf(c *echo.Context) (accuracy.Part, error) {
	version, err := number("version", c.QueryParam("version"), 0)
	return accuracy.Part{Version: version, Split: c.QueryParam("split"), Tag: c.QueryParam("tag"), Drafts: isTrue(c, "drafts")}, err
}

func isTrue(c *echo.Context, name string) bool {
	yes, _ := strconv.ParseBool(c.QueryParam(name))
	return yes
}

func (s *Server) measurements(c *echo.Context) error {
	all, err := s.bench.Measurements(c.Request().Context(), c.Param("collection"))
	if err != nil {
		return err
	}
	return listed(c, "measurements", all, func(one *json.RawMessage) string {
		var named struct{ ID string }
		_ = json.Unmarshal(*one, &named) // what the bench wrote
		return named.ID
	})
}

func (s *Server) measurement(c *echo.Context) error {
	m, err := s.bench.Measurement(c.Request().Context(), c.Param("measurement"), isTrue(c, "judged"))
	if err != nil {
		return err
	}
	return c.JSON(http.StatusOK, m)
}

func (s *Server) removeMeasurement(c *echo.Context) error {
	if err := s.bench.RemoveMeasurement(c.Request().Context(), c.Param("measurement")); err != nil {
		return err
	}
	return c.NoContent(http.StatusNoContent)
}

func (s *Server) compare(c *echo.Context) error {
	out, err := s.bench.Compare(c.Request().Context(), c.Param("measurement"), c.Param("other"), isTrue(c, "judged"))
	if err != nil {
		return err
	}
	return c.JSON(http.StatusOK, out)
}

// reportDPI is the resolution of the pages in a report.
const reportDPI = 60

// report sends a measurement written up for people who were not there.
func (s *Server) report(c *echo.Context) error {
	ctx := c.Request().Context()
	m, err := s.bench.Measurement(ctx, c.Param("measurement"), isTrue(c, "judged"))
	if err != nil {
		return err
	}
	options := report.Options{Picture: func(document string, page int) ([]byte, error) {
		return s.service.Picture(ctx, m.Subject.Collection, document, page, reportDPI)
	}}
	if against := c.QueryParam("against"); against != "" {
		if options.Against, err = s.bench.Compare(ctx, against, m.ID, isTrue(c, "judged")); err != nil {
			return err
		}
	}
	var out bytes.Buffer
	switch format := c.QueryParam("format"); format {
	case "", "html":
		if err := report.HTML(&out, m, options); err != nil {
			return err
		}
		c.Response().Header().Set("Content-Disposition", `attachment; filename="accuracy-`+m.ID+`.html"`)
		return c.Blob(http.StatusOK, "text/html; charset=utf-8", out.Bytes())
	case "markdown":
		if err := report.Markdown(&out, m, options); err != nil {
			return err
		}
		return c.Blob(http.StatusOK, "text/markdown; charset=utf-8", out.Bytes())
	case "junit":
		if err := measure.WriteJUnit(&out, m, nil); err != nil {
			return err
		}
		return c.Blob(http.StatusOK, "application/xml; charset=utf-8", out.Bytes())
	case "run":
		if err := trec.WriteRun(&out, m); err != nil {
			return err
		}
		return c.Blob(http.StatusOK, "text/plain; charset=utf-8", out.Bytes())
	default:
		return echo.NewHTTPError(http.StatusBadRequest, "format is "+format+": choose html, markdown, junit or run")
	}
}

func (s *Server) listJobs(c *echo.Context) error {
	all, err := s.bench.Jobs(c.Request().Context(), c.Param("collection"))
	if err != nil {
		return err
	}
	return listed(c, "jobs", all, func(one *api.Job) string { return one.ID })
}

// mostWait is how many seconds a request waits for a job at the most.
const mostWait = 30

// getJob tells how far a job is, if that is wanted when it has ended or so many seconds have passed.
func (s *Server) getJob(c *echo.Context) error {
	seconds, err := number("wait", c.QueryParam("wait"), 0)
	if err != nil {
		return err
	}
	collection, id := c.Param("collection"), c.Param("job")
	if seconds > 0 {
		ctx, cancel := context.WithTimeout(c.Request().Context(), time.Duration(min(seconds, mostWait))*time.Second)
		defer cancel()
		if job, err := s.bench.Wait(ctx, collection, id); err == nil {
			return c.JSON(http.StatusOK, job)
		}
	}
	job, err := s.bench.Job(c.Request().Context(), collection, id)
	if err != nil {
		return err
	}
	return c.JSON(http.StatusOK, job)
}

func (s *Server) cancelJob(c *echo.Context) error {
	job, err := s.bench.Cancel(c.Request().Context(), c.Param("collection"), c.Param("job"))
	if err != nil {
		return err
	}
	return c.JSON(http.StatusOK, job)
}
