/**
 * Packages that the server's bundles hold in themselves: of each it uses a small part, and loaded from their folders they come
 * whole, with every language they know. That is some 30 MB for each process.
 */
export const BUNDLED = ["zod", "date-fns", "lucide-react", "recharts", "@headlessui/react", "@tanstack/react-virtual"];
