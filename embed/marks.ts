/** Says of an element of the page what we made of it: `shown` as it is, or `away`. */
export const MARK = 'data-understudy';
/** Marks what we put into the page. */
export const STAND_IN = 'data-understudy-stand-in';
