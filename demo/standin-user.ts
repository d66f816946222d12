/** The one user of the stand-in mail server. */
export const STANDIN_USER = { name: 'office@skarrow.example', password: 'herring' };
