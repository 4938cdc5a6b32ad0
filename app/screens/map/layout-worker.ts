/** In a worker this takes messages of the layout's own interface by itself. */
import 'elkjs/lib/elk-worker.min.js';
