import * as z from 'zod';

// The page's policy forbids code that is made from text: without this Zod tries whether it may, and the browser tells that as an error.
z.config({ jitless: true });
