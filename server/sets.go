package server

import (
	"bytes"
	"fmt"
	"net/http"
	"strings"

	"github.com/labstack/echo/v5"

	"jardinet/api"
	"jardinet/measure"
	"jardinet/measure/trec"
)

func (s *Server) listSets(c *echo.Context) error {
	all, err := s.bench.Sets(c.Request().Context(), c.Param("collection"))
	if err != nil {
		return err
	}
	return listed(c, "sets", all, func(one *api.QuestionSet) string { return one.Name })
}

// importSet puts the questions in the body into a set.
func (s *Server) importSet(c *echo.Context) error {
	from, err := s.importable(c)
	if err != nil {
		return err
	}
	out, err := s.bench.Import(c.Request().Context(), c.Param("collection"), c.Param("set"), from, !isTrue(c, "add"))
	if err != nil {
		return err
	}
	return c.JSON(http.StatusOK, out)
}

// importable reads the set in the body: JSON Lines, CSV, or topics and qrels in one, the qrels
// after the last topic.
func (s *Server) importable(c *echo.Context) (*measure.Set, error) {
	switch as := c.QueryParam("as"); as {
	case "", "jsonl":
		return setIn(c, c.Param("set")+".jsonl")
	case "csv":
		return setIn(c, c.Param("set")+".csv")
	case "trec":
		var in struct{ Topics, Qrels string }
		if err := bodyWithin(c, maxSet, &in); err != nil {
			return nil, err
		}
		set, err := trec.ReadSet(c.Param("set"), strings.NewReader(in.Topics), strings.NewReader(in.Qrels))
		if err != nil {
			return nil, echo.NewHTTPError(http.StatusUnprocessableEntity, err.Error())
		}
		return set, nil
	default:
		return nil, echo.NewHTTPError(http.StatusBadRequest, "as is "+as+": choose jsonl, csv or trec")
	}
}

// set sends a set, as a file of some kind if that is wanted.
func (s *Server) set(c *echo.Context) error {
	part, err := partOf(c)
	if err != nil {
		return err
	}
	out, err := s.bench.Set(c.Request().Context(), c.Param("collection"), c.Param("set"), part)
	if err != nil {
		return err
	}
	format := c.QueryParam("format")
	if format == "" || format == "json" {
		return c.JSON(http.StatusOK, out)
	}
	write, ok := setFormats[format]
	if !ok {
		return echo.NewHTTPError(http.StatusBadRequest, "format is "+format+": choose json, jsonl, csv, topics or qrels")
	}
	var file bytes.Buffer
	if err := write.write(&file, &measure.Set{Name: out.Name, Questions: out.All}); err != nil {
		return err
	}
	return c.Blob(http.StatusOK, write.kind, file.Bytes())
}

// setFormats are the kinds of file that a set can be sent as.
var setFormats = map[string]struct {
	kind  string
	write func(*bytes.Buffer, *measure.Set) error
}{
	"jsonl": {"application/jsonl", func(w *bytes.Buffer, set *measure.Set) error {
		data, err := set.JSONL()
		w.Write(data)
		return err
	}},
	"csv":    {"text/csv; charset=utf-8", func(w *bytes.Buffer, set *measure.Set) error { return set.WriteCSV(w) }},
	"topics": {"text/plain; charset=utf-8", func(w *bytes.Buffer, set *measure.Set) error { return trec.WriteTopics(w, set) }},
	"qrels":  {"text/plain; charset=utf-8", func(w *bytes.Buffer, set *measure.Set) error { return trec.WriteQrels(w, set) }},
}

func (s *Server) removeSet(c *echo.Context) error {
	if err := s.bench.RemoveSet(c.Request().Context(), c.Param("collection"), c.Param("set")); err != nil {
		return err
	}
	return c.NoContent(http.StatusNoContent)
}

func (s *Server) putQuestion(c *echo.Context) error {
	var in measure.Question
	if err := body(c, &in); err != nil {
		return err
	}
	if in.ID != c.Param("question") {
		return echo.NewHTTPError(http.StatusUnprocessableEntity, fmt.Sprintf("the question's id is %q, and its address says %q", in.ID, c.Param("question")))
	}
	out, err := s.bench.Put(c.Request().Context(), c.Param("collection"), c.Param("set"), in)
	if err != nil {
		return err
	}
	return c.JSON(http.StatusOK, out)
}

func (s *Server) removeQuestion(c *echo.Context) error {
	out, err := s.bench.Remove(c.Request().Context(), c.Param("collection"), c.Param("set"), c.Param("question"))
	if err != nil {
		return err
	}
	return c.JSON(http.StatusOK, out)
}

func (s *Server) reviewSet(c *echo.Context) error {
	out, err := s.bench.Review(c.Request().Context(), c.Param("collection"), c.Param("set"))
	if err != nil {
		return err
	}
	return c.JSON(http.StatusOK, out)
}

func (s *Server) draftQuestions(c *echo.Context) error {
	var in struct {
		Questions int      `json:"questions"`
		Documents []string `json:"documents"`
	}
	if err := body(c, &in); err != nil {
		return err
	}
	job, err := s.bench.Draft(c.Request().Context(), c.Param("collection"), c.Param("set"), in.Questions, in.Documents)
	if err != nil {
		return err
	}
	return c.JSON(http.StatusAccepted, job)
}

func (s *Server) gatherQuestions(c *echo.Context) error {
	var in struct {
		From string `json:"from"`
	}
	if err := body(c, &in); err != nil {
		return err
	}
	out, err := s.bench.Gather(c.Request().Context(), c.Param("collection"), c.Param("set"), in.From)
	if err != nil {
		return err
	}
	return c.JSON(http.StatusOK, out)
}

func (s *Server) reportAnswer(c *echo.Context) error {
	var in api.Report
	if err := body(c, &in); err != nil {
		return err
	}
	if err := s.bench.Report(c.Request().Context(), c.Param("collection"), in); err != nil {
		return err
	}
	return c.NoContent(http.StatusNoContent)
}

// settleReport notes whether an owner has seen to a report.
func (s *Server) settleReport(c *echo.Context) error {
	var in struct {
		Done bool `json:"done"`
	}
	if err := body(c, &in); err != nil {
		return err
	}
	if err := s.bench.SettleReport(c.Request().Context(), c.Param("collection"), c.Param("report"), in.Done); err != nil {
		return err
	}
	return c.NoContent(http.StatusNoContent)
}

func (s *Server) listReports(c *echo.Context) error {
	all, err := s.bench.Reports(c.Request().Context(), c.Param("collection"))
	if err != nil {
		return err
	}
	return listed(c, "reports", all, func(one *api.Report) string { return one.ID })
}
