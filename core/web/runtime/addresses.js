// Addresses, none of which is to run a program.

// runs says whether an address is a program, as the URL standard (4.4) reads it: without control characters and blanks
// before it, and without line feeds and tabs in it.
function runs(address) {
  return address.split(";").some(part => /^javascript:/i.test(part.replace(/[\t\n\r]/g, "").replace(/^[\u0000-\u0020]+/, "")));
}

/** Whether an address is a program: then it is told, and to be left out. */
export function refused(address) {
  if (!runs(address)) return false;
  console.error(`the address ${address} would run a program, and is left out`);
  return true;
}
