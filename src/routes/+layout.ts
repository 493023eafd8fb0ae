// The desk lives in the browser alone; the server gives the API.
export const ssr = false;
