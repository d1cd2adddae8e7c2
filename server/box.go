package server

import (
	_ "embed"
	"net/http"

	"github.com/labstack/echo/v5"
)

//go:embed box.js
var boxScript []byte

// box sends the script of the question box, which pages of other sites may hold.
func box(c *echo.Context) error {
	h := c.Response().Header()
	h.Set("Cross-Origin-Resource-Policy", "cross-origin")
	h.Set("Cache-Control", "public, max-age=3600")
	return c.Blob(http.StatusOK, "text/javascript; charset=utf-8", boxScript)
}
