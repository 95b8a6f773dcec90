package engine

// A proof goes from state to state and back. For that the engine can keep the
// logs of its turns, and take turns back that have succeeded.

// Keep lets the engine keep the logs of its turns from now on.
func (e *Engine) Keep() { e.keeps = true }

// Blind says that nobody will ask who has the focus, unless the design does: that what has it is
// hidden need not be seen.
func (e *Engine) Blind() { e.blind = !e.program.sees.focus }

// Mark is the state as it is, to come back to with Rewind.
func (e *Engine) Mark() int {
	e.end()
	return len(e.journal)
}

// keepTurn puts the log of the last turn, if there is one, to the others.
func (e *Engine) keepTurn() {
	if len(e.undo) == 0 {
		return
	}
	e.journal = append(e.journal, e.undo)
	e.undo = nil
	if n := len(e.spare); n > 0 {
		e.undo, e.spare = e.spare[n-1], e.spare[:n-1]
	}
}

// Rewind takes back all that was done since the mark.
func (e *Engine) Rewind(mark int) {
	e.end()
	if len(e.journal) <= mark {
		return
	}
	var again []*node
	for i := len(e.journal) - 1; i >= mark; i-- {
		log := e.journal[i]
		again = e.takeBack(log, again)
		clear(log)
		e.spare = append(e.spare, log[:0])
	}
	e.journal = e.journal[:mark]
	e.epoch++
	e.restore(again)
	e.turns, e.touched, e.calls = nil, e.touched[:0], nil
}
