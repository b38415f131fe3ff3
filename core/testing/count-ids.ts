import { takeIdsFrom } from '../profile/fresh.js';

/*
 * Tests have ids that are the same each time: a word and the first number that is free; a host's is its model's where that
 * is free. What has to hold of ids by chance asks for those itself.
 */
const COUNTED = ['layer', 'flag', 'surface', 'show'];

takeIdsFrom((word, isTaken) => {
  if (word !== 'b' && !COUNTED.includes(word) && !isTaken(word)) return word;
  const join = word === 'b' ? word : `${word}-`;
  let n = word === 'b' || COUNTED.includes(word) ? 1 : 2;
  while (isTaken(`${join}${n}`)) n++;
  return `${join}${n}`;
});
