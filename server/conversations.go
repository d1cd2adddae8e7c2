package server

import (
	"bytes"
	"encoding/json"
	"net/http"

	"github.com/labstack/echo/v5"

	"jardinet/answer"
	"jardinet/api"
	"jardinet/rendition"
)

func (s *Server) conversations(c *echo.Context) error {
	all, err := s.service.Conversations(c.Request().Context(), c.Param("collection"))
	if err != nil {
		return err
	}
	return listed(c, "conversations", all, func(one *api.Conversation) string { return one.ID })
}

// conversation sends a kept conversation, as Markdown, a page of the web, PDF
// or a question set if that is wanted.
func (s *Server) conversation(c *echo.Context) error {
	out, err := s.service.Conversation(c.Request().Context(), c.Param("collection"), c.Param("conversation"))
	if err != nil {
		return err
	}
	written := out.Markdown(c.Param("collection"))
	switch format := c.QueryParam("format"); format {
	case "", "json":
		return c.JSON(http.StatusOK, out)
	case "markdown":
		return c.Blob(http.StatusOK, "text/markdown; charset=utf-8", []byte(written))
	case "html":
		page, err := rendition.MarkdownHTML("Conversation "+out.ID, written)
		if err != nil {
			return err
		}
		c.Response().Header().Set("Content-Disposition", "attachment; filename="+out.ID+".html")
		return c.Blob(http.StatusOK, "text/html; charset=utf-8", page)
	case "pdf":
		pages, err := rendition.MarkdownPDF("Conversation "+out.ID, written)
		if err != nil {
			return err
		}
		return c.Blob(http.StatusOK, "application/pdf", pages)
	case "questions":
		var lines bytes.Buffer
		for _, q := range out.Questions() {
			if err := json.NewEncoder(&lines).Encode(q); err != nil {
				return err
			}
		}
		return c.Blob(http.StatusOK, "application/jsonl", lines.Bytes())
	default:
		return echo.NewHTTPError(http.StatusBadRequest, "format is "+format+": choose json, markdown, html, pdf or questions")
	}
}

func (s *Server) removeConversation(c *echo.Context) error {
	if err := s.service.RemoveConversation(c.Request().Context(), c.Param("collection"), c.Param("conversation")); err != nil {
		return err
	}
	return c.NoContent(http.StatusNoContent)
}

func (s *Server) style(c *echo.Context) error {
	out, err := s.service.Style(c.Request().Context(), c.Param("collection"))
	if err != nil {
		return err
	}
	return c.JSON(http.StatusOK, out)
}

func (s *Server) setStyle(c *echo.Context) error {
	var in answer.Style
	if err := body(c, &in); err != nil {
		return err
	}
	if err := s.service.SetStyle(c.Request().Context(), c.Param("collection"), &in); err != nil {
		return err
	}
	return s.style(c)
}
