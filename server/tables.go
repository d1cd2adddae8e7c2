package server

import (
	"fmt"
	"mime"
	"net/http"
	"path/filepath"
	"strconv"
	"strings"

	"github.com/labstack/echo/v5"

	"jardinet/api"
	"jardinet/service"
)

func (s *Server) listTables(c *echo.Context) error {
	all, err := s.service.Tables(c.Request().Context(), c.Param("collection"), c.Param("document"))
	if err != nil {
		return err
	}
	return listed(c, "tables", all, func(one *api.Table) string { return strconv.Itoa(one.Number) })
}

// tableKinds are the media types in which a table is sent.
var tableKinds = map[string]string{
	"csv": "text/csv; charset=utf-8", "xlsx": "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet", "svg": "image/svg+xml", "png": "image/png",
}

// table sends a table: as JSON with the cells' boxes, as a file, or drawn.
func (s *Server) table(c *echo.Context) error {
	ctx := c.Request().Context()
	n, err := number("table", c.Param("table"), 0)
	if err != nil {
		return err
	}
	which := service.WhichTable{Collection: c.Param("collection"), Document: c.Param("document"), Number: n, Joined: c.QueryParam("joined") == "true"}
	format := c.QueryParam("format")
	var data []byte
	switch format {
	case "", "json":
		out, err := s.service.Table(ctx, which)
		if err != nil {
			return err
		}
		return c.JSON(http.StatusOK, out)
	case "csv", "xlsx":
		data, err = s.service.TableFile(ctx, which, format)
		name := fmt.Sprintf("%s-table-%d.%s", strings.TrimSuffix(filepath.Base(which.Document), filepath.Ext(which.Document)), n, format)
		c.Response().Header().Set("Content-Disposition", mime.FormatMediaType("attachment", map[string]string{"filename": name}))
	case "svg", "png":
		data, err = s.drawn(c, which, format)
	default:
		return echo.NewHTTPError(http.StatusBadRequest, "format is "+format+": choose json, csv, xlsx, svg or png")
	}
	if err != nil {
		c.Response().Header().Del("Content-Disposition")
		return err
	}
	return c.Blob(http.StatusOK, tableKinds[format], data)
}

func (s *Server) drawn(c *echo.Context, which service.WhichTable, format string) ([]byte, error) {
	over, err := number("over", c.QueryParam("over"), 0)
	if err != nil {
		return nil, err
	}
	column, err := number("column", c.QueryParam("column"), 0)
	if err != nil {
		return nil, err
	}
	return s.service.DrawTable(c.Request().Context(), which, service.Chart{Kind: c.QueryParam("chart"), Over: over, Column: column, Format: format})
}
