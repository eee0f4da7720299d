/** Pages that are not there. */
export const app = {
  // App
  theAddressMayBeMistyped: 'The address may be mistyped.',
  thereIsNothingHere: 'There is nothing here',
  openingTheView: 'Opening the view',
};
