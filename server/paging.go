package server

import (
	"encoding/base64"
	"encoding/json"
	"fmt"
	"net/http"
	"slices"

	"github.com/labstack/echo/v5"
)

// mostListed is how many entries of a list are sent at a time at most, if a limit is given.
const mostListed = 1000

// A cursor says where the next part of a list begins: after an entry, or, should that be gone by
// then, where it stood.
type cursor struct {
	ID    string `json:"i"`
	Place int    `json:"p"` // of the next entry
}

// listed sends a list: all of it, or, if a limit is given, a part with the cursor of the next.
func listed[T any](c *echo.Context, name string, all []T, id func(*T) string) error {
	part, next, err := partOfList(c, all, id)
	if err != nil {
		return err
	}
	out := map[string]any{name: part}
	if next != "" {
		out["next"] = next
	}
	return c.JSON(http.StatusOK, out)
}

func partOfList[T any](c *echo.Context, all []T, id func(*T) string) (part []T, next string, err error) {
	limit, err := number("limit", c.QueryParam("limit"), 0)
	if err != nil {
		return nil, "", err
	}
	if limit > mostListed {
		return nil, "", echo.NewHTTPError(http.StatusBadRequest, fmt.Sprintf("limit is %d: %d entries are sent at a time at most", limit, mostListed))
	}
	from := 0
	if after := c.QueryParam("after"); after != "" {
		var at cursor
		raw, err := base64.RawURLEncoding.DecodeString(after)
		if err != nil || json.Unmarshal(raw, &at) != nil || at.Place < 0 {
			return nil, "", echo.NewHTTPError(http.StatusBadRequest, "after is no cursor of this list: send what \"next\" was, or leave it away to begin")
		}
		from = min(at.Place-1, len(all))
		if i := slices.IndexFunc(all, func(one T) bool { return id(&one) == at.ID }); i >= 0 {
			from = i + 1
		}
	}
	if part = all[max(from, 0):]; limit == 0 || len(part) <= limit {
		return part, "", nil
	}
	raw, err := json.Marshal(cursor{ID: id(&part[limit-1]), Place: max(from, 0) + limit})
	return part[:limit], base64.RawURLEncoding.EncodeToString(raw), err
}
