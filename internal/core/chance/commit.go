package chance

import (
	"crypto/sha256"
	"crypto/subtle"
	"encoding/hex"
)

// Commit returns the hash of the seed that is published when a room opens, as
// 64 hexadecimal digits: SHA-256("damselfly seed 1\n" ‖ seed).
func Commit(seed Seed) string {
	sum := sha256.Sum256(append([]byte("damselfly seed 1\n"), seed[:]...))
	return hex.EncodeToString(sum[:])
}

// Check reports whether a disclosed seed is the one that was committed to.
func Check(seed Seed, commitment string) bool {
	return subtle.ConstantTimeCompare([]byte(Commit(seed)), []byte(commitment)) == 1
}
