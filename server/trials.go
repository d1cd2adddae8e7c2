package server

import (
	"net/http"
	"strings"

	"github.com/labstack/echo/v5"

	"jardinet/api"
)

func (s *Server) listTrials(c *echo.Context) error {
	all, err := s.bench.Trials(c.Request().Context(), c.Param("collection"))
	if err != nil {
		return err
	}
	live, err := s.service.Setup(c.Request().Context(), c.Param("collection"))
	if err != nil {
		return err
	}
	past, err := s.bench.PastSetups(c.Request().Context(), c.Param("collection"))
	if err != nil {
		return err
	}
	return c.JSON(http.StatusOK, map[string]any{"live": live, "trials": all, "past": past})
}

func (s *Server) makeTrial(c *echo.Context) error {
	var in api.Setup
	if err := body(c, &in); err != nil {
		return err
	}
	job, err := s.bench.Try(c.Request().Context(), c.Param("collection"), c.Param("trial"), in)
	if err != nil {
		return err
	}
	return c.JSON(http.StatusAccepted, job)
}

func (s *Server) dropTrial(c *echo.Context) error {
	if err := s.bench.Drop(c.Request().Context(), c.Param("collection"), c.Param("trial")); err != nil {
		return err
	}
	return c.NoContent(http.StatusNoContent)
}

func (s *Server) promoteTrial(c *echo.Context) error {
	out, err := s.bench.Promote(c.Request().Context(), c.Param("collection"), c.Param("trial"))
	if err != nil {
		return err
	}
	return c.JSON(http.StatusOK, out)
}

func (s *Server) askTrial(c *echo.Context) error {
	var in api.Ask
	if err := body(c, &in); err != nil {
		return err
	}
	out, err := s.bench.AskTrial(c.Request().Context(), c.Param("collection"), c.Param("trial"), in)
	if err != nil {
		return err
	}
	return c.JSON(http.StatusOK, out)
}

func (s *Server) putBackSetup(c *echo.Context) error {
	version, err := number("version", c.Param("version"), 0)
	if err != nil {
		return err
	}
	out, err := s.bench.PutBack(c.Request().Context(), c.Param("collection"), version)
	if err != nil {
		return err
	}
	return c.JSON(http.StatusOK, out)
}

func (s *Server) listSweeps(c *echo.Context) error {
	all, err := s.bench.Sweeps(c.Request().Context(), c.Param("collection"))
	if err != nil {
		return err
	}
	return c.JSON(http.StatusOK, map[string]any{"sweeps": all})
}

func (s *Server) sweep(c *echo.Context) error {
	var in api.SweepPlan
	if err := body(c, &in); err != nil {
		return err
	}
	job, err := s.bench.Sweep(c.Request().Context(), c.Param("collection"), in)
	if err != nil {
		return err
	}
	return c.JSON(http.StatusAccepted, job)
}

func (s *Server) watched(c *echo.Context) error {
	out, err := s.bench.Watch(c.Request().Context(), c.Param("collection"))
	if err != nil {
		return err
	}
	return c.JSON(http.StatusOK, out)
}

func (s *Server) setWatch(c *echo.Context) error {
	var in api.Watch
	if err := body(c, &in); err != nil {
		return err
	}
	if err := s.bench.SetWatch(c.Request().Context(), c.Param("collection"), in); err != nil {
		return err
	}
	return s.watched(c)
}

// judged are the measurements that are judged together, their ids separated by commas.
func judged(c *echo.Context) []string { return strings.Split(c.Param("measurement"), ",") }

func (s *Server) nextToJudge(c *echo.Context) error {
	out, err := s.bench.Next(c.Request().Context(), judged(c))
	if err != nil {
		return err
	}
	return c.JSON(http.StatusOK, map[string]any{"next": out})
}

func (s *Server) judge(c *echo.Context) error {
	var in api.Judged
	if err := body(c, &in); err != nil {
		return err
	}
	if err := s.bench.Judge(c.Request().Context(), judged(c), in); err != nil {
		return err
	}
	return s.nextToJudge(c)
}

func (s *Server) judging(c *echo.Context) error {
	out, err := s.bench.Judging(c.Request().Context(), c.Param("measurement"))
	if err != nil {
		return err
	}
	return c.JSON(http.StatusOK, out)
}
