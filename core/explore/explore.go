// Package explore keeps what a search of all states needs, in few bytes and within
// the memory that it is given: the states by number, with the shortest way to each
// (states.go, store.go); one state for those that differ by an exchange of equals
// (order.go); turns that were taken, by the cells that they depend on (memory.go);
// how much may live (heap.go), and counts that pass what a word holds (count.go).
//
// It knows states as package engine reads them: a shape, and the numbers of cells.
// What a state means, which are visited and what has to hold in them is for its
// users to say, such as package prove.
package explore
