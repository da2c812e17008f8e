/** What runs in the server's process before the server itself. */
import "./forwarded";
import "./paced";
