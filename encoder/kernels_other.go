//go:build !amd64

package encoder

func available() []*kernels { return []*kernels{&plain} }
