package access

import (
	"crypto/rand"
	"crypto/sha256"
	"crypto/subtle"
	"encoding/base64"
	"fmt"
	"strings"
	"unicode/utf8"

	"golang.org/x/crypto/argon2"
)

// NewKey returns a secret of 256 random bits for a program, which starts so that tools that
// look for secrets in files find it.
func NewKey() string { return "jardinet_" + random() }

// NewToken returns such a secret for a session or a link.
func NewToken() string { return random() }

func random() string {
	var b [32]byte
	rand.Read(b[:]) // never fails
	return base64.RawURLEncoding.EncodeToString(b[:])
}

// Hash returns what is kept of such a secret. It is random, so that a plain hash does.
func Hash(secret string) []byte {
	sum := sha256.Sum256([]byte(secret))
	return sum[:]
}

// Lengths of a passphrase, in characters.
const (
	ShortestPassphrase = 12
	LongestPassphrase  = 200
)

// CheckPassphrase says what is wrong with a new passphrase.
func CheckPassphrase(name, passphrase string) error {
	switch n := utf8.RuneCountInString(passphrase); {
	case n < ShortestPassphrase:
		return fmt.Errorf("the passphrase has %d characters: take at least %d, such as four words that do not belong together", n, ShortestPassphrase)
	case n > LongestPassphrase:
		return fmt.Errorf("the passphrase has %d characters: take at most %d", n, LongestPassphrase)
	case strings.Contains(strings.ToLower(passphrase), strings.ToLower(name)) && len(name) > 3:
		return fmt.Errorf("the passphrase contains the name %q: take one that does not", name)
	case strings.Count(passphrase, passphrase[:1]) == len(passphrase):
		return fmt.Errorf("the passphrase is one character again and again: take another")
	}
	return nil
}

// The cost of trying a passphrase: 19 MiB and two passes (Argon2id, RFC 9106; Biryukov,
// Dinu and Khovratovich 2016).
const (
	memory  = 19 << 10 // KiB
	passes  = 2
	threads = 1
)

// HashPassphrase returns what is kept of a passphrase.
func HashPassphrase(passphrase string) string {
	salt := make([]byte, 16)
	rand.Read(salt)
	return encode(memory, passes, salt, argon2.IDKey([]byte(passphrase), salt, passes, memory, threads, 32))
}

func encode(memory, passes uint32, salt, sum []byte) string {
	b64 := base64.RawStdEncoding.EncodeToString
	return fmt.Sprintf("$argon2id$v=%d$m=%d,t=%d,p=%d$%s$%s", argon2.Version, memory, passes, threads, b64(salt), b64(sum))
}

// nobody is what a passphrase is compared with if there is no such person, so that the time
// that the answer takes does not tell who is known.
var nobody = encode(memory, passes, make([]byte, 16), make([]byte, 32))

// IsPassphrase tells whether a passphrase is the one of which this is kept; an empty kept
// takes as long and is no passphrase's.
func IsPassphrase(kept, passphrase string) bool {
	if kept == "" {
		kept = nobody
	}
	var version int
	var m, t uint32
	var p uint8
	parts := strings.Split(kept, "$")
	if len(parts) != 6 {
		return false
	}
	if _, err := fmt.Sscanf(parts[2]+" "+parts[3], "v=%d m=%d,t=%d,p=%d", &version, &m, &t, &p); err != nil {
		return false
	}
	salt, err1 := base64.RawStdEncoding.DecodeString(parts[4])
	sum, err2 := base64.RawStdEncoding.DecodeString(parts[5])
	if err1 != nil || err2 != nil {
		return false
	}
	given := argon2.IDKey([]byte(passphrase), salt, t, m, p, uint32(len(sum)))
	return subtle.ConstantTimeCompare(given, sum) == 1
}

// Same compares two secrets in a time that does not tell where they differ.
func Same(a, b string) bool { return subtle.ConstantTimeCompare([]byte(a), []byte(b)) == 1 }
