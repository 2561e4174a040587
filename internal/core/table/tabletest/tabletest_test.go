package tabletest

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"damselfly/internal/core/table"
)

func TestEveryActionThereIsIsGenerated(t *testing.T) {
	assert.Equal(t, table.ActionKinds(), Kinds(), "a new action needs a generator, or no property covers it")
}
