/** The worker that hosts core in the browser. One follows what is seen; a few more do long jobs. */
import './decoders';
import { serve, type Port } from './serve';

serve(self as unknown as Port);
