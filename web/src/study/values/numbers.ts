/** Writes a number with the digits that matter for people, hours and money: one behind the point below a hundred. */
export const round = (number: number) => Number(number.toFixed(number < 100 ? 1 : 0)).toLocaleString("en");
