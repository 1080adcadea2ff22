/** The worker that hosts core in the browser. One follows what is seen; a few more do long jobs. */
import './decoders';
import { Host } from './host';
import { lastingIn } from './lasting';
import { fetchBlob, serve, type Port } from './serve';

const port = self as unknown as Port;
const lasting = lastingIn(process.env.GLYPTA_EDITION ?? '');
serve(port, new Host(fetchBlob, (note, transfer) => port.postMessage({ note }, transfer), lasting));
