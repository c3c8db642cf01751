/** What stands for a shared desk’s phone, which is nobody’s: its account, its registration and its calls. */
export const deskEndpoint = (desk: string): string => `${OF_A_DESK}${desk}`;
const OF_A_DESK = 'desk/';
/** The desk of such a phone; null: it is another. */
export const deskOfEndpoint = (endpoint: string): string | null =>
  endpoint.startsWith(OF_A_DESK) ? endpoint.slice(OF_A_DESK.length) : null;
