// React's development build keeps a stack for every element made, ten thousand a second: a third of what the tests of
// the page took. Its own limit is said to be reached, and it goes on without. (What failed says where all the same.)
import React from 'react';

const inside = React.__CLIENT_INTERNALS_DO_NOT_USE_OR_WARN_USERS_THEY_CANNOT_UPGRADE;
Object.defineProperty(inside, 'recentlyCreatedOwnerStacks', { get: () => Infinity, set: () => {} });
