// Package api has the types that the service's HTTP interface takes and gives, as
// server/openapi.yaml describes them. Whoever talks to a service needs these and neither
// the store nor the PDF engine behind it.
package api
