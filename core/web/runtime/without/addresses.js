// A design in which no attribute leads somewhere.

export const refused = () => false;
