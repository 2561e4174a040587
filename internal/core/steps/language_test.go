package steps

import (
	"maps"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"

	"damselfly.example/damselfly/internal/core/table"
)

func TestEveryDeedIsTold(t *testing.T) {
	assert.Equal(t, table.DeedWords(), slices.Sorted(maps.Keys(language.says)))
}
